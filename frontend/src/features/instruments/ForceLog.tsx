/** A force-time log from a hopper or a pulling machine: peak, break, stiffness, work. Read, not kept. */
import { Box, Button, Dialog, TextField, Typography } from "@mui/material";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { answered, api } from "../../api/client";
import { formatMass, GRAVITY } from "../../app/format";
import { Notice, sentenceOf } from "../../app/states";
import { condensed } from "../../app/theme";
import { useUnits } from "../../app/units";

export function ForceLog() {
  const units = useUnits();
  const [open, setOpen] = useState(false);
  const [speed, setSpeed] = useState("");
  const read = useMutation({
    mutationFn: async (file: File | null) => {
      // Without a file, a simulated log to practise with.
      const text = await (file ?? (await fetch("/api/force-logs/practice"))).text();
      return answered(api.POST("/api/force-logs", { body: { text, speed } }));
    },
  });
  const found = read.data;
  return (
    <>
      <Button sx={{ px: 0, mt: 2, mr: 3 }} onClick={() => setOpen(true)}>
        Read a force log
      </Button>
      <Dialog open={open} onClose={() => setOpen(false)} aria-label="Force log">
        <Box sx={{ p: 3, width: 480 }}>
          <Typography variant="h2">A force log</Typography>
          <Typography sx={{ mb: 1.5 }}>
            CSV with the columns time_s and force_n. It is read and not kept: write what it says beside the
            trial.
          </Typography>
          <TextField
            label="Pushed how far in a second?"
            placeholder="1 mm"
            helperText="Leave it out, and there is no stiffness and no work."
            value={speed}
            onChange={(event) => setSpeed(event.target.value)}
            sx={{ mb: 1.5 }}
          />
          <Box>
            <Button component="label" variant="outlined" disabled={read.isPending}>
              Choose the file
              <input
                type="file"
                accept=".csv,.txt,text/csv"
                hidden
                onChange={(event) => {
                  const file = event.target.files?.[0];
                  if (file) read.mutate(file);
                  event.target.value = "";
                }}
              />
            </Button>
          </Box>
          <Button sx={{ mt: 1, px: 0 }} disabled={read.isPending} onClick={() => read.mutate(null)}>
            Or one from the practice hopper (simulated)
          </Button>
          {read.isPending && <Typography sx={{ mt: 1 }}>Reading …</Typography>}
          {read.isError && <Notice kind="problem">{sentenceOf(read.error)}</Notice>}
          {found && (
            <Box sx={{ mt: 2 }}>
              <Typography sx={{ fontFamily: condensed, fontWeight: 700, fontSize: "2.2rem" }}>
                {found.broke ? "Held" : "Held at least"} {Number(found.held_n.toPrecision(3))} N,{" "}
                {formatMass(Number((found.held_n / GRAVITY).toPrecision(3)), units)}
              </Typography>
              <Typography>{found.says}</Typography>
              {found.stiffness_n_m !== null && (
                <Typography>
                  Stiffness {Number((found.stiffness_n_m / 1000).toPrecision(3))} N/mm, work{" "}
                  {Number((found.work_j ?? 0).toPrecision(2))} J.
                </Typography>
              )}
              {found.gaps > 0 && <Typography>{found.gaps} rows had a gap and were left out.</Typography>}
            </Box>
          )}
        </Box>
      </Dialog>
    </>
  );
}
