/** The frame of a team's own tablet: whose it is, and whether the network is there. What is in it, the stage says. */
import { Box, Button, Typography } from "@mui/material";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { ApiError, api, answered, isUnreachable } from "../../api/client";
import { keys } from "../../api/queries";
import type { TeamPage as Page } from "../../api/types";
import { GirderMark } from "../../drawing/GirderMark";
import { TeamMark } from "../../drawing/TeamMark";
import { NewVersionNote } from "../../shared/NewVersionNote";
import { Failed, Loading } from "../../shared/states";
import { condensed, ink } from "../../shared/theme";
import { useTitle } from "../../shared/title";
import { UnitsContext } from "../../shared/units";
import { JoinForm } from "./JoinForm";
import { came, type Came } from "./page";

const WATCHED_MS = 1500;
const USUAL_MS = 6000;

function useTeamPage() {
  return useQuery({
    queryKey: keys.team,
    queryFn: async () => came(await answered(api.GET("/api/team"))),
    retry: (count, error) => isUnreachable(error) && count < 2,
    // Stays as it was while the network is away, and comes back by itself.
    refetchInterval: (query) => (query.state.data?.page.stage === "testing" ? WATCHED_MS : USUAL_MS),
  });
}

function Head({ page, away }: { page: Page; away: boolean }) {
  const client = useQueryClient();
  const leave = useMutation({
    mutationFn: () => api.DELETE("/api/team"),
    onSettled: () => client.resetQueries({ queryKey: keys.team }),
  });
  return (
    <Box
      component="header"
      sx={{
        display: "flex",
        gap: 1.5,
        alignItems: "center",
        flexWrap: "wrap",
        borderBottom: `4px solid ${ink.ink}`,
        pb: 1,
      }}
    >
      {page.team ? <TeamMark team={page.team} size={40} /> : <GirderMark size={30} />}
      <Typography sx={{ fontFamily: condensed, fontWeight: 700, fontSize: "1.9rem", lineHeight: 1 }}>
        {page.team?.name ?? "Even Girder"}
      </Typography>
      <Typography sx={{ color: ink.soft, flex: 1 }}>{page.name}</Typography>
      <Typography role="status" sx={{ color: ink.soft }}>
        {away ? "◐ waiting for the network" : ""}
      </Typography>
      <Button size="small" onClick={() => leave.mutate()} disabled={leave.isPending}>
        Leave
      </Button>
    </Box>
  );
}

export function TeamFrame({ children }: { children: (came: Came) => ReactNode }) {
  const team = useTeamPage();
  useTitle([team.data?.page.team?.name ?? "Team"]);
  const out = team.error instanceof ApiError && team.error.status === 403;
  if (out)
    return (
      <JoinForm
        given=""
        why="This tablet is in no lesson: it is over, or the code was taken back. Type the code that your teacher shows."
      />
    );
  if (team.isPending) return <Loading what="your team’s page" />;
  if (!team.data) return <Failed error={team.error} retry={() => void team.refetch()} />;
  const { page } = team.data;
  return (
    <UnitsContext value={page.units}>
      <Box
        sx={{
          maxWidth: 1080,
          mx: "auto",
          px: { xs: 2, sm: 3 },
          py: 1.5,
          fontSize: page.young ? "1.15rem" : "1rem",
        }}
      >
        <Head page={page} away={team.isError} />
        <Box component="main">{children(team.data)}</Box>
        <NewVersionNote />
      </Box>
    </UnitsContext>
  );
}
