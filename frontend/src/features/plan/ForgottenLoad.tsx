/** A load object that the plan forgot: it goes into the kit of this run, at once, and what was tested stays as it was. */
import { Box, Button, Typography } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ApiError, answered, api } from "../../api/client";
import { keys, showAnswer } from "../../api/queries";
import { Notice, sentenceOf } from "../../shared/states";
import { ink } from "../../shared/theme";
import { useRunState } from "../run";
import { KitItemRow, NO_ITEM } from "./KitItemRow";

export function ForgottenLoad() {
  const { run } = useRunState().state;
  const client = useQueryClient();
  const [item, setItem] = useState<typeof NO_ITEM | null>(null);
  const add = useMutation({
    mutationFn: (typed: typeof NO_ITEM) =>
      answered(api.POST("/api/runs/{id}/load", { params: { path: { id: run.id } }, body: typed })),
    onSuccess: (fresh) => {
      setItem(null);
      showAnswer(client, keys.run(run.id), fresh);
      void client.invalidateQueries({ queryKey: keys.runPlan(run.id) });
    },
  });
  if (item === null)
    return (
      <Button sx={{ px: 0, mt: 1 }} onClick={() => setItem(NO_ITEM)}>
        A load object is missing? Add it to this run
      </Button>
    );
  return (
    <Box
      component="form"
      sx={{ mt: 2 }}
      onSubmit={(event) => {
        event.preventDefault();
        add.mutate(item);
      }}
    >
      <Typography variant="h2">Add to this run’s load</Typography>
      <Typography sx={{ color: ink.soft }}>
        Trials that were made stay as they are. The recipe stays as it is, too.
      </Typography>
      <KitItemRow
        item={item}
        path=""
        weighs=""
        problems={add.error instanceof ApiError ? add.error.fields : {}}
        onChange={(changed) => {
          add.reset();
          setItem(changed);
        }}
      />
      {add.isError && <Notice kind="problem">{sentenceOf(add.error)}</Notice>}
      <Button type="submit" variant="contained" disabled={add.isPending}>
        Add it
      </Button>
      <Button onClick={() => setItem(null)}>Leave it</Button>
    </Box>
  );
}
