/** The teacher's word on what a team found by itself: confirmed as it stands, in one touch. */
import { Button, Typography } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { answered, api } from "../../api/client";
import { keys, usePart } from "../../api/queries";
import type { Design } from "../../api/types";
import { Notice, sentenceOf } from "../../shared/states";
import { useRunState } from "../run";

interface Props {
  trial: string;
  /** The number that its next entry has, as it is looked at. */
  seen: number;
}

export function ConfirmTest({ trial, seen }: Props) {
  const client = useQueryClient();
  const { run } = useRunState().state;
  const confirm = useMutation({
    mutationFn: () =>
      answered(
        api.PUT("/api/trials/{id}/station", {
          params: { path: { id: trial } },
          body: { action: "confirm", seen },
        }),
      ),
    // Also what was refused is looked at anew: the team wrote on.
    onSettled: () => client.invalidateQueries({ queryKey: keys.run(run.id) }),
  });
  return (
    <>
      <Button variant="contained" disabled={confirm.isPending} onClick={() => confirm.mutate()}>
        Confirm it
      </Button>
      {confirm.isError && <Notice kind="problem">{sentenceOf(confirm.error)}</Notice>}
    </>
  );
}

/** Of a test that its team made by itself: who confirmed it, or how to. */
export function TestedByItself({ trial }: { trial: Design["trials"][number] }) {
  const part = usePart(useRunState().state.run.class_id);
  if (!trial.by_team) return null;
  const asks = trial.unconfirmed && trial.result.outcome !== "running" && part !== "observer";
  return (
    <Typography
      component="div"
      sx={{ my: 0.5, display: "flex", flexWrap: "wrap", alignItems: "center", gap: 1.5 }}
    >
      Tested by the team itself, at its station. {trial.confirmed_by && `Confirmed by ${trial.confirmed_by}.`}
      {asks && <ConfirmTest trial={trial.id} seen={trial.result.next_sequence} />}
    </Typography>
  );
}
