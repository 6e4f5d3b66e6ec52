/** What the team measured itself, to be taken over in one touch; or how far it is from what the teacher measured. */
import { Box, Button, Typography } from "@mui/material";
import { answered, api } from "../../api/client";
import type { Design, Offered } from "../../api/types";
import { plural } from "../../shared/format";
import { Notice, sentenceOf } from "../../shared/states";
import { ink } from "../../shared/theme";
import { useDesignWrite } from "../run";

const useTakeOver = (design: Design) =>
  useDesignWrite(
    (keys: string[]) =>
      answered(
        api.POST("/api/designs/{id}/team-readings", { params: { path: { id: design.id } }, body: { keys } }),
      ),
    undefined,
    `readings of ${design.id}`,
  );

/** What nobody has looked at yet: nothing else was measured of it. */
const unseen = (design: Design): Offered[] =>
  design.offered.filter(
    (offered) => !offered.taken && !design.readings.some((reading) => reading.key === offered.key),
  );

/** In the list of teams, and above the readings of one. */
export const waitingFor = (design: Design): number =>
  unseen(design).length + design.photos.filter((photo) => photo.waits).length;

export function TakeAllOver({ design }: { design: Design }) {
  const take = useTakeOver(design);
  const waiting = unseen(design);
  if (waiting.length === 0) return null;
  return (
    <Box sx={{ borderLeft: `5px solid ${ink.watch}`, pl: 1.5, my: 1 }}>
      <Typography>
        {design.team.name} measured {waiting.length} {plural("thing", waiting.length)} itself. What you
        measure wins.
      </Typography>
      <Button
        variant="outlined"
        size="small"
        disabled={take.isPending}
        onClick={() => take.mutate(waiting.map((offered) => offered.key))}
      >
        Take {waiting.length === 1 ? "it" : `all ${waiting.length}`} over
      </Button>
      {take.isError && <Notice kind="problem">{sentenceOf(take.error)}</Notice>}
    </Box>
  );
}

/** Under a row. */
export function TeamMeasured({ design, reading }: { design: Design; reading: string }) {
  const take = useTakeOver(design);
  const offered = design.offered.find((one) => one.key === reading);
  if (!offered) return null;
  if (offered.taken)
    return (
      <Typography variant="body2" sx={{ color: ink.soft }}>
        as {design.team.name} measured it
      </Typography>
    );
  return (
    <Typography
      variant="body2"
      component="div"
      sx={{
        color: offered.agree === false ? ink.watch : ink.soft,
        display: "flex",
        gap: 1.5,
        flexWrap: "wrap",
      }}
    >
      <span>
        {design.team.name} measured <b>{offered.text}</b>
        {offered.zero_text && `, from ${offered.zero_text}`}
        {offered.tare_text && `, tare ${offered.tare_text}`}
        {offered.apart && `: ${offered.apart}`}
      </span>
      <Button
        size="small"
        sx={{ p: 0, minWidth: 0 }}
        disabled={take.isPending}
        aria-label={`Take ${design.team.name}’s ${offered.text} over`}
        onClick={() => take.mutate([offered.key])}
      >
        {offered.apart ? "Take theirs instead" : "Take it over"}
      </Button>
      {take.isError && <Notice kind="problem">{sentenceOf(take.error)}</Notice>}
    </Typography>
  );
}
