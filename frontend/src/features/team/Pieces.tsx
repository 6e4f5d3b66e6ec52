/** How many pieces the team has used to try things. */
import { Box, IconButton, Typography } from "@mui/material";
import { useMutation } from "@tanstack/react-query";
import { answered, api } from "../../api/client";
import type { TeamPage } from "../../api/types";
import { Notice, sentenceOf } from "../../shared/states";
import { ink } from "../../shared/theme";
import { useShow } from "./page";

export function Pieces({ page }: { page: TeamPage }) {
  const show = useShow();
  const set = useMutation({
    mutationFn: (used: number) => answered(api.PUT("/api/team/practice", { body: { used } })),
    onSuccess: show,
  });
  const { practice_used: used, practice_pieces: of } = page;
  if (of === 0) return null;
  return (
    <Box sx={{ mt: 2 }}>
      <Box sx={{ display: "flex", alignItems: "center", gap: 0.5 }}>
        <IconButton
          aria-label="One piece fewer"
          disabled={used === 0 || set.isPending}
          onClick={() => set.mutate(used - 1)}
        >
          −
        </IconButton>
        <Typography sx={{ fontSize: "1.15rem", color: used > of ? ink.oxide : ink.ink }}>
          {used} of {of} pieces to practise with are used
        </Typography>
        <IconButton aria-label="One piece more" disabled={set.isPending} onClick={() => set.mutate(used + 1)}>
          +
        </IconButton>
      </Box>
      {set.isError && <Notice kind="problem">{sentenceOf(set.error)}</Notice>}
    </Box>
  );
}
