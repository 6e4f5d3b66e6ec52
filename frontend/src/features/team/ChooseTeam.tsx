/** Which team is this tablet of? */
import { Box, Button, Typography } from "@mui/material";
import { useMutation } from "@tanstack/react-query";
import { ApiError, answered, api } from "../../api/client";
import type { TeamPage, TeamShown } from "../../api/types";
import { TeamMark } from "../../drawing/TeamMark";
import { Notice, sentenceOf } from "../../shared/states";
import { bareButton, condensed, ink } from "../../shared/theme";
import { useShow } from "./page";

interface Choice {
  team: TeamShown;
  confirmed: boolean;
}

export function ChooseTeam({ page }: { page: TeamPage }) {
  const show = useShow();
  const choose = useMutation({
    mutationFn: ({ team, confirmed }: Choice) =>
      answered(api.PUT("/api/team", { body: { team: team.id, confirmed } })),
    onSuccess: show,
  });
  const asked = choose.error instanceof ApiError && choose.error.confirm ? choose.variables : undefined;
  return (
    <Box>
      <Typography variant="h1" sx={{ mt: 2, mb: 2 }}>
        Which team are you?
      </Typography>
      {asked && (
        <Box role="alert" sx={{ border: `2px solid ${ink.watch}`, bgcolor: ink.sheet, p: 2, mb: 2 }}>
          <Typography sx={{ fontSize: "1.2rem", mb: 1.5 }}>{sentenceOf(choose.error)}</Typography>
          <Button
            variant="contained"
            onClick={() => choose.mutate({ ...asked, confirmed: true })}
            sx={{ mr: 1.5 }}
          >
            Yes, we are {asked.team.name}
          </Button>
          <Button variant="outlined" onClick={() => choose.reset()}>
            No, we choose again
          </Button>
        </Box>
      )}
      {choose.isError && !asked && <Notice kind="problem">{sentenceOf(choose.error)}</Notice>}
      <Box
        sx={{
          display: "grid",
          gap: 1.5,
          gridTemplateColumns: "repeat(auto-fill, minmax(min(16rem, 100%), 1fr))",
        }}
      >
        {page.teams.map((team) => (
          <Box
            key={team.id}
            component="button"
            disabled={choose.isPending}
            onClick={() => choose.mutate({ team, confirmed: false })}
            sx={{
              ...bareButton,
              display: "flex",
              alignItems: "center",
              gap: 2,
              p: 2,
              minHeight: 84,
              bgcolor: ink.sheet,
              border: `2px solid ${ink.line}`,
              "&:hover, &:focus-visible": { borderColor: ink.ink },
            }}
          >
            <TeamMark team={team} size={44} />
            <Box>
              <Typography
                sx={{ fontFamily: condensed, fontWeight: 700, fontSize: "1.8rem", lineHeight: 1.1 }}
              >
                {team.name}
              </Typography>
              {page.taken.includes(team.id) && (
                <Typography sx={{ color: ink.soft }}>a tablet is in already</Typography>
              )}
            </Box>
          </Box>
        ))}
      </Box>
    </Box>
  );
}
