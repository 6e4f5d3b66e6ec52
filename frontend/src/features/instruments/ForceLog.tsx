/** A force-time log from a hopper or a pulling machine: peak, break, stiffness, work, and what load it stands for. */
import { Box, Button, TextField, Typography } from "@mui/material";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { answered, api } from "../../api/client";
import type { TraceReading } from "../../api/types";
import { FileButton } from "../../shared/FileButton";
import { Notice, sentenceOf } from "../../shared/states";

/** Reads a log; what it says is shown, and handed on for the trial. */
export function ForceLog({ onRead }: { onRead: (reading: TraceReading) => void }) {
  const [speed, setSpeed] = useState("");
  const read = useMutation({
    mutationFn: async (file: File | null) => {
      // Without a file, a simulated log to practise with.
      const text = await (file ?? (await fetch("/api/force-logs/practice"))).text();
      return answered(api.POST("/api/force-logs", { body: { text, speed } }));
    },
    onSuccess: onRead,
  });
  const reading = read.data;
  return (
    <>
      <Typography sx={{ mb: 1.5 }}>CSV with the columns time_s and force_n.</Typography>
      <TextField
        label="Pushed how far in a second?"
        placeholder="1 mm"
        helperText="Leave it out, and there is no stiffness and no work."
        value={speed}
        onChange={(event) => setSpeed(event.target.value)}
        sx={{ mb: 1.5 }}
      />
      <Box>
        <FileButton
          accept=".csv,.txt,text/csv"
          disabled={read.isPending}
          onFile={(file) => read.mutate(file)}
          look={{ variant: "outlined" }}
        >
          Choose the file
        </FileButton>{" "}
        <Button disabled={read.isPending} onClick={() => read.mutate(null)}>
          A practice log (simulated hopper)
        </Button>
      </Box>
      {read.isPending && <Typography sx={{ mt: 1 }}>Reading …</Typography>}
      {read.isError && <Notice kind="problem">{sentenceOf(read.error)}</Notice>}
      {reading && (
        <Box sx={{ mt: 1 }}>
          <Typography sx={{ fontWeight: 600 }}>{reading.says}</Typography>
          {reading.stiffness_n_m !== null && (
            <Typography>
              Stiffness {Number((reading.stiffness_n_m / 1000).toPrecision(3))} N/mm, work{" "}
              {Number((reading.work_j ?? 0).toPrecision(2))} J.
            </Typography>
          )}
          {reading.gaps > 0 && <Typography>{reading.gaps} rows had a gap and were left out.</Typography>}
        </Box>
      )}
    </>
  );
}
