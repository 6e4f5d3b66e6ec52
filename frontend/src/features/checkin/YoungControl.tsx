/** Young-class mode: pictures, counts and bigger words, and the unit that lengths are counted in. */
import { Box, Button, FormControlLabel, Switch, TextField, Typography } from "@mui/material";
import { NamedDialog } from "../../shared/NamedDialog";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ApiError, answered, api } from "../../api/client";
import { keys, showAnswer } from "../../api/queries";
import { Notice, sentenceOf } from "../../shared/states";
import { useRunState } from "../run";

export function YoungControl() {
  const { state } = useRunState();
  const { run } = state;
  const [open, setOpen] = useState(false);
  const [young, setYoung] = useState(run.young);
  const [unit, setUnit] = useState(run.counted_unit?.name ?? "");
  const [size, setSize] = useState(run.counted_unit?.text ?? "");
  const client = useQueryClient();
  const write = useMutation({
    mutationFn: () =>
      answered(
        api.PUT("/api/runs/{id}/young", { params: { path: { id: run.id } }, body: { young, unit, size } }),
      ),
    onSuccess: (fresh) => {
      showAnswer(client, keys.run(run.id), fresh);
      setOpen(false);
    },
  });
  const fields = write.error instanceof ApiError ? write.error.fields : {};
  return (
    <>
      <Button size="small" sx={{ px: 0, mt: 1 }} onClick={() => setOpen(true)}>
        {run.young ? "Young class: counts and pictures" : "For a young class"}
        {run.counted_unit && `, in ${run.counted_unit.name}s`}
      </Button>
      <NamedDialog open={open} onClose={() => setOpen(false)} name="Young class">
        <Box
          component="form"
          sx={{ p: 3, maxWidth: 440 }}
          onSubmit={(event) => {
            event.preventDefault();
            write.mutate();
          }}
        >
          <Typography variant="h2">For a young class</Typography>
          <FormControlLabel
            control={<Switch checked={young} onChange={(event) => setYoung(event.target.checked)} />}
            label="Pictures, counts and bigger words"
          />
          <Typography sx={{ my: 1 }}>
            Lengths can be counted in something of a known size, such as cubes; “12 cubes” is read like “24
            cm”.
          </Typography>
          <Box sx={{ display: "flex", gap: 1, mb: 2 }}>
            <TextField
              label="Counted in"
              placeholder="cube"
              value={unit}
              error={"name" in fields}
              helperText={fields["name"]}
              onChange={(event) => setUnit(event.target.value)}
            />
            <TextField
              label="One is"
              placeholder="20 mm"
              value={size}
              error={"size" in fields}
              helperText={fields["size"]}
              onChange={(event) => setSize(event.target.value)}
            />
          </Box>
          {write.isError && Object.keys(fields).length === 0 && (
            <Notice kind="problem">{sentenceOf(write.error)}</Notice>
          )}
          <Button type="submit" variant="contained" disabled={write.isPending}>
            Keep it
          </Button>
          <Button onClick={() => setOpen(false)}>Leave it</Button>
        </Box>
      </NamedDialog>
    </>
  );
}
