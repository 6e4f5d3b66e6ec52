/** A run in the list at home: its set-up drawn, its class and day, and how far its tests are. */
import { Box, Link, Typography } from "@mui/material";
import { Link as RouterLink } from "react-router";
import type { HomeRun } from "../../api/types";
import { SetupDrawing } from "../../drawing/SetupDrawing";
import { formatDate } from "../../shared/format";
import { ink } from "../../shared/theme";

/** Where a run is gone on with. */
export const wayInto = (run: HomeRun): string =>
  `/runs/${run.id}/${run.designs > 0 && run.tested === run.designs ? "compare" : run.tested > 0 ? "bench" : "brief"}`;

export function RunLine({ run }: { run: HomeRun }) {
  return (
    <Link
      component={RouterLink}
      to={wayInto(run)}
      underline="none"
      color="inherit"
      sx={{
        display: "grid",
        gridTemplateColumns: { xs: "64px 1fr auto", sm: "64px minmax(180px, 1fr) 110px 160px 190px" },
        columnGap: 2,
        alignItems: "center",
        py: 0.75,
        borderBottom: `1px solid ${ink.line}`,
        "&:hover": { bgcolor: ink.sheet },
      }}
    >
      <Box aria-hidden sx={{ height: 42, gridRow: { xs: "span 2", sm: "auto" } }}>
        <SetupDrawing drawing={run.drawing} width={64} height={42} plain />
      </Box>
      <Typography
        sx={{
          fontWeight: 700,
          fontSize: "1.25rem",
          lineHeight: 1.15,
          gridColumn: { xs: "span 2", sm: "auto" },
        }}
      >
        {run.name}
        {run.tryout && (
          <Typography component="span" sx={{ color: ink.soft, fontWeight: 400 }}>
            {" "}
            (tried out)
          </Typography>
        )}
      </Typography>
      <Typography>{run.class_name}</Typography>
      <Typography sx={{ color: ink.soft, display: { xs: "none", sm: "block" } }}>
        {formatDate(run.date)}
      </Typography>
      <Box sx={{ display: "flex", alignItems: "center", gap: 1 }}>
        <Box
          aria-hidden
          sx={{ width: 72, height: 10, border: `2px solid ${ink.ink}`, display: { xs: "none", sm: "block" } }}
        >
          <Box
            sx={{
              height: "100%",
              width: `${(100 * run.tested) / Math.max(1, run.designs)}%`,
              bgcolor: ink.held,
            }}
          />
        </Box>
        <Typography variant="body2">
          {run.tested} of {run.designs} tested
        </Typography>
      </Box>
    </Link>
  );
}
