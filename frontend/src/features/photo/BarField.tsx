/** How long the bar of a set's cards came out of the printer: measured once, kept for the set, and typed again at need. */
import { Box, Button, TextField, Typography } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { answered, api } from "../../api/client";
import { keys } from "../../api/queries";
import { Notice, sentenceOf } from "../../shared/states";
import { ink } from "../../shared/theme";

interface Props {
  number: number;
  /** What was measured before; empty for a set that nobody measured. */
  before: string;
  onMeasured: () => void;
}

export function BarField({ number, before, onMeasured }: Props) {
  const [bar, setBar] = useState("");
  const [step, setStep] = useState("0.5 mm");
  const [open, setOpen] = useState(before === "");
  const client = useQueryClient();
  const measure = useMutation({
    mutationFn: () =>
      answered(
        api.PUT("/api/card-sets/{number}", {
          params: { path: { number } },
          body: { bar_text: bar, step_text: step },
        }),
      ),
    onSuccess: (sets) => {
      client.setQueryData(keys.cardSets, sets);
      setOpen(false);
      onMeasured();
    },
  });
  if (!open)
    return (
      <Button size="small" sx={{ px: 0 }} onClick={() => setOpen(true)}>
        The bar of set {number} is {before || bar}. Measure it again
      </Button>
    );
  return (
    <Box
      component="form"
      onSubmit={(event) => {
        event.preventDefault();
        // The row that it was opened from is a form, too, and hears what is in its dialogs.
        event.stopPropagation();
        if (bar.trim() !== "") measure.mutate();
      }}
      sx={{ borderLeft: `4px solid ${ink.watchFill}`, pl: 1.5, my: 1.5 }}
    >
      <Typography variant="body2" sx={{ mb: 1.5 }}>
        {before === "" && `Nobody has measured the bar of set ${number} yet. `}
        It is meant to be 100 mm; printers differ by some per cent.
      </Typography>
      <Box sx={{ display: "flex", gap: 1 }}>
        <TextField
          label="The bar is"
          value={bar}
          placeholder="100 mm"
          sx={{ width: 116 }}
          error={measure.isError}
          onChange={(event) => {
            measure.reset();
            setBar(event.target.value);
          }}
        />
        <TextField
          label="Ruler’s step"
          value={step}
          sx={{ width: 104 }}
          onChange={(event) => {
            measure.reset();
            setStep(event.target.value);
          }}
        />
        <Button type="submit" disabled={bar.trim() === "" || measure.isPending}>
          Keep
        </Button>
      </Box>
      {measure.isError && <Notice kind="problem">{sentenceOf(measure.error)}</Notice>}
    </Box>
  );
}
