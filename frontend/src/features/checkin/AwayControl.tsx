/** Says that a team is not here today, or does not go on; then nobody waits for it. A result that it has stands. */
import { Box, Button, Typography } from "@mui/material";
import { answered, api } from "../../api/client";
import type { Design } from "../../api/types";
import { Notice, sentenceOf } from "../../shared/states";
import { ink } from "../../shared/theme";
import { useCheckInWrite } from "./useCheckInWrite";

const WORDS: Record<Exclude<Design["away"], "">, string> = { absent: "Absent today", withdrawn: "Withdrawn" };

export function AwayControl({ design }: { design: Design }) {
  const write = useCheckInWrite<Design["away"]>(design, {
    send: (away, signal) =>
      answered(
        api.PUT("/api/designs/{id}/away", { params: { path: { id: design.id } }, body: { away }, signal }),
      ),
    keep: (away) => ({ away: { value: away, before: design.away } }),
    shown: (own, away) => ({ ...own, away }),
  });
  if (design.tested) return null;
  const { name } = design.team;
  return (
    <Box sx={{ display: "flex", flexWrap: "wrap", alignItems: "baseline", columnGap: 1 }}>
      {design.away ? (
        <>
          <Typography sx={{ fontWeight: 600, color: ink.watch }}>{WORDS[design.away]}.</Typography>
          <Button size="small" onClick={() => write.mutate("")}>
            {design.away === "absent" ? `${name} is here now` : `${name} goes on after all`}
          </Button>
        </>
      ) : (
        <>
          <Button size="small" sx={{ px: 0 }} onClick={() => write.mutate("absent")}>
            {name} is absent
          </Button>
          <Button size="small" onClick={() => write.mutate("withdrawn")}>
            withdraws
          </Button>
        </>
      )}
      {write.isError && <Notice kind="problem">{sentenceOf(write.error)}</Notice>}
    </Box>
  );
}
