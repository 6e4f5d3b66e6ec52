/** The frame of every page: the mark, where one is, the units, who is signed in. */
import { Box, Button, Link, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Link as RouterLink, Outlet } from "react-router";
import { answered, api } from "../api/client";
import { keys } from "../api/queries";
import type { Teacher, UnitSystem } from "../api/types";
import { GirderMark } from "../drawing/GirderMark";
import { ink } from "../shared/theme";
import { NewVersionNote } from "../shared/NewVersionNote";
import { UnitsContext } from "../shared/units";
import { useAway } from "../shared/useAway";
import { KeysHelp } from "./KeysHelp";

export function Shell({ teacher }: { teacher: Teacher }) {
  const client = useQueryClient();
  const away = useAway();
  const prefer = useMutation({
    mutationFn: (units: UnitSystem) => answered(api.PATCH("/api/session", { body: { units } })),
    onSuccess: async (session) => {
      client.setQueryData(keys.session, session);
      // Words name masses and lengths, so all that was told is asked for again in the other units.
      await client.invalidateQueries({ predicate: (query) => query.queryKey[0] !== keys.session[0] });
    },
  });
  const leave = useMutation({
    mutationFn: () => answered(api.DELETE("/api/session")),
    // Nothing of this teacher's stays behind in the browser: what was fetched is let go with the session.
    onSuccess: (session) => client.setQueryData(keys.session, session),
  });
  return (
    <UnitsContext value={teacher.units ?? "metric"}>
      <Link
        href="#main"
        sx={{
          position: "absolute",
          left: -9999,
          "&:focus": { left: 8, top: 8, bgcolor: ink.sheet, p: 1, zIndex: 9 },
        }}
      >
        To the content
      </Link>
      <Box
        component="header"
        sx={{
          display: "flex",
          alignItems: "center",
          flexWrap: { xs: "wrap", md: "nowrap" },
          columnGap: 1.5,
          px: 3,
          pt: 1.25,
          pb: 0.75,
          "@media print": { display: "none" },
        }}
      >
        <Link
          component={RouterLink}
          to="/"
          underline="none"
          color="inherit"
          sx={{ display: "flex", gap: 1, alignItems: "center" }}
        >
          <GirderMark size={22} />
          <Typography component="span" sx={{ fontWeight: 700, fontSize: "1.2rem" }}>
            Even Girder
          </Typography>
        </Link>
        <Box
          id="where"
          sx={{
            flex: { xs: "1 0 100%", md: 1 },
            order: { xs: 1, md: 0 },
            color: ink.soft,
            fontSize: "1.1rem",
            pl: { md: 1 },
          }}
        />
        <Typography role="status" sx={{ color: ink.watch, "&:empty": { position: "absolute" } }}>
          {away ? "◐ no network: as it was last" : ""}
        </Typography>
        <ToggleButtonGroup
          exclusive
          size="small"
          value={teacher.units}
          aria-label="Units"
          onChange={(_, units: UnitSystem | null) => {
            if (units) prefer.mutate(units);
          }}
          sx={{
            "& .MuiToggleButton-root": {
              py: 0.25,
              px: 1.25,
              textTransform: "none",
              color: ink.soft,
              fontSize: "0.9rem",
            },
          }}
        >
          <ToggleButton value="metric">g mm</ToggleButton>
          <ToggleButton value="us">oz in</ToggleButton>
        </ToggleButtonGroup>
        <Link component={RouterLink} to="/account" sx={{ color: ink.soft, overflowWrap: "anywhere" }}>
          {teacher.name}
        </Link>
        <Button size="small" variant="text" onClick={() => leave.mutate()} sx={{ color: ink.ink }}>
          Sign out
        </Button>
      </Box>
      <KeysHelp />
      <NewVersionNote />
      <Box component="main" id="main" sx={{ px: 3, pb: 3 }}>
        <Outlet />
      </Box>
    </UnitsContext>
  );
}
