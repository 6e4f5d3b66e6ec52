/** A load that is not counted: read off a gauge, weighed as sand and bucket, or taken from a force log. */
import { Box, Button, TextField, Typography } from "@mui/material";
import { NamedDialog } from "../../shared/NamedDialog";
import { useState } from "react";
import { assumeUnit } from "../../shared/assumeUnit";
import { formatMass } from "../../shared/format";
import { ink } from "../../shared/theme";
import { useUnits } from "../../shared/units";
import { ForceLog, InstrumentButton } from "../instruments";

interface Props {
  /** What was counted onto it so far [kg]. */
  countedKg: number;
  onClose: () => void;
  /** What is written down of it; `held` says whether it stayed up under it, `broke` whether the log shows the break. */
  onSave: (data: Record<string, unknown>, broke: boolean) => void;
}

export function LoadPanel({ countedKg, onClose, onSave }: Props) {
  const units = useUnits();
  const [mass, setMass] = useState("");
  const [resolution, setResolution] = useState("1 g");
  // Where the figure comes from, as long as nobody typed over it.
  const [from, setFrom] = useState<{ source: "force_log" | "typed"; says: string; broke: boolean }>({
    source: "typed",
    says: "",
    broke: false,
  });
  const typed = (text: string) => {
    setMass(text);
    setFrom({ source: "typed", says: "", broke: false });
  };
  const save = (held: boolean) => {
    const { broke, ...source } = from;
    const meant = (text: string) => assumeUnit(text, "mass", units);
    onSave({ mass: meant(mass), resolution: meant(resolution), held, ...source }, held && broke);
  };
  return (
    <NamedDialog open onClose={onClose} name="The load as one figure">
      <Box
        component="form"
        sx={{ p: 3, width: 560, maxWidth: "100vw" }}
        onSubmit={(event) => {
          event.preventDefault();
          save(true);
        }}
      >
        <Typography variant="h2">The load as one figure</Typography>
        <Typography sx={{ mb: 2 }}>
          What a gauge showed at most, or what sand and bucket weigh together.{" "}
          {countedKg > 0 && <b>The {formatMass(countedKg, units)} that were counted come on top.</b>}
        </Typography>
        <Box sx={{ display: "flex", gap: 2, alignItems: "flex-start" }}>
          <TextField
            label="Load"
            placeholder="1.2 kg, 12 N"
            value={mass}
            autoFocus
            onChange={(event) => typed(event.target.value)}
          />
          <TextField
            label="Step of the scale"
            value={resolution}
            onChange={(event) => setResolution(event.target.value)}
            sx={{ width: 150 }}
          />
        </Box>
        <InstrumentButton
          kind="mass"
          label="Read it from a scale or gauge"
          onRead={(text, step) => {
            typed(text);
            setResolution(step);
          }}
        />
        <Box sx={{ borderTop: `1px solid ${ink.line}`, mt: 1.5, pt: 1.5 }}>
          <Typography variant="h3">Or from a force log</Typography>
          <ForceLog
            onRead={(reading) => {
              setMass(reading.text);
              setResolution(reading.step_text);
              setFrom({ source: "force_log", says: reading.says, broke: reading.broke });
            }}
          />
        </Box>
        <Box sx={{ display: "flex", gap: 1, mt: 2.5 }}>
          <Button type="submit" variant="contained" disabled={!mass.trim()}>
            {from.broke ? "It held this, then went" : "It held this"}
          </Button>
          <Button variant="outlined" disabled={!mass.trim()} onClick={() => save(false)}>
            It is on now
          </Button>
          <Button onClick={onClose}>Leave it</Button>
        </Box>
      </Box>
    </NamedDialog>
  );
}
