/** The teacher's word on what a team found by itself: confirmed as it stands, in one touch. */
import { Button } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { answered, api } from "../../api/client";
import { keys } from "../../api/queries";
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
