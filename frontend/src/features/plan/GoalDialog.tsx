/** Changing what wins in a run; once tests have begun, only with a reason, which stays with every result. */
import {
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  TextField,
  Typography,
} from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ApiError, answered, api } from "../../api/client";
import { keys, showAnswer } from "../../api/queries";
import type { RunState } from "../../api/types";
import { formatMoment } from "../../shared/format";
import { Notice, sentenceOf } from "../../shared/states";
import { ink } from "../../shared/theme";
import { useRunState } from "../run";
import { GoalEditor, type GoalParts } from "./GoalEditor";

export function GoalDialog({ onClose }: { onClose: () => void }) {
  const { state, family } = useRunState();
  const { run } = state;
  const client = useQueryClient();
  const [goal, setGoal] = useState<GoalParts>({
    school: run.school,
    weights: run.weights ?? {},
    trial_rule: run.trial_rule,
    tie_rule: run.tie_rule,
    breach_policy: run.breach_policy,
    penalty: run.penalty,
  });
  const [reason, setReason] = useState("");
  const write = useMutation({
    mutationFn: () =>
      answered(
        api.PUT("/api/runs/{id}/goal", { params: { path: { id: run.id } }, body: { ...goal, reason } }),
      ),
    onSuccess: async (fresh) => {
      showAnswer(client, keys.run(run.id), fresh);
      await client.invalidateQueries({ queryKey: ["comparison", run.id] });
      await client.invalidateQueries({ queryKey: keys.runPlan(run.id) });
      onClose();
    },
  });
  const fields = write.error instanceof ApiError ? write.error.fields : {};
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="md">
      <form
        onSubmit={(event) => {
          event.preventDefault();
          write.mutate();
        }}
      >
        <DialogTitle>What wins in this run</DialogTitle>
        <DialogContent sx={{ pt: "8px !important" }}>
          <GoalEditor
            goal={goal}
            family={family}
            problems={fields}
            onChange={(parts) => setGoal({ ...goal, ...parts })}
          />
          {state.goal_locked && (
            <TextField
              label="Why it changes"
              fullWidth
              value={reason}
              error={"reason" in fields}
              helperText={
                fields["reason"] ?? "Tests have begun. The reason is kept and shown with every result."
              }
              onChange={(e) => setReason(e.target.value)}
              sx={{ mt: 2.5 }}
            />
          )}
          {write.isError && <Notice kind="problem">{sentenceOf(write.error)}</Notice>}
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Not now</Button>
          <Button type="submit" variant="contained" disabled={write.isPending}>
            Change it
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}

/** What was changed after tests had begun, and why; part of every result. */
export function GoalChanges({ changes }: { changes: RunState["goal_changes"] }) {
  return changes.map((change) => (
    <Box key={change.changed_at} sx={{ borderLeft: `6px solid ${ink.watchFill}`, pl: 1.5, mb: 1 }}>
      <Typography>
        <b>The goal was changed after tests had begun</b>, {formatMoment(change.changed_at)}: “{change.reason}
        ” Before: {change.before}. Now: {change.after}.
      </Typography>
    </Box>
  ));
}
