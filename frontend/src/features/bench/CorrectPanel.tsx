/** Puts an entry of a ledger right: what it should have said, or that it never was. The first writing stays readable. */
import { Box, Button, MenuItem, TextField, Typography } from "@mui/material";
import { NamedDialog } from "../../shared/NamedDialog";
import { useState } from "react";
import type { Family, QuantityKind, Run } from "../../api/types";
import { assumeUnit } from "../../shared/assumeUnit";
import { ink } from "../../shared/theme";
import { useUnits } from "../../shared/units";
import { useRunState } from "../run";
import { entryWords, type Told } from "./entryWords";

interface Field {
  key: string;
  label: string;
  /** What can be chosen; without it a text is typed. */
  choices?: readonly { key: string; label: string }[];
  /** What it measures, where it is typed with a unit. */
  kind?: QuantityKind;
  /** How what was typed stands in the ledger; as it is, unless said. */
  read?: (text: string) => unknown;
}

const COUNT: Field = { key: "count", label: "How many", read: Number };
/** What a round over at once can be, in the words of its test. */
const hitOrMiss = (family: Family) =>
  [true, false].map((hit) => ({
    key: String(hit),
    label: hit ? family.procedure.hit : family.procedure.miss,
  }));

const measuredKind = (entry: Told, family: Family): QuantityKind =>
  family.bench.measures.find((measure) => measure.key === entry.data?.["key"])?.kind ?? "length";

/** What of an entry can be changed. */
function fieldsOf(entry: Told, run: Run, family: Family): readonly Field[] {
  const items = run.kit.map((item) => ({ key: item.key, label: item.name }));
  const scale: Field = { key: "resolution", label: "Scale’s step", kind: "mass" };
  const note: Field = { key: "note", label: "Note" };
  switch (entry.kind) {
    case "place":
    case "remove":
      return [{ key: "item", label: "What", choices: items }, COUNT];
    case "observe":
      return [{ key: "sign", label: "What was seen", choices: family.observations }];
    case "fail":
      return [{ key: "mode", label: "How it went", choices: family.failure_modes }, note];
    case "run_out":
      return [{ key: "reason", label: "Why it stopped", choices: family.run_out_reasons }, note];
    case "void":
      return [{ key: "reason", label: "What spoiled it", choices: family.loading_errors }, note];
    case "load_reading":
      return [{ key: "mass", label: "The load", kind: "mass" }, scale];
    case "pile_reading":
      return [{ key: "mass", label: "Scale shows", kind: "mass" }, scale];
    case "measure":
      return [{ key: "text", label: "It measured", kind: measuredKind(entry, family) }];
    case "round":
      if (typeof entry.data?.["hit"] === "boolean")
        return [{ key: "hit", label: "It was", choices: hitOrMiss(family), read: (text) => text === "true" }];
      return entry.data?.["height"] ? [{ key: "height", label: "From how high", kind: "length" }] : [];
    default:
      return [];
  }
}

interface Props {
  entry: Told & { id: string };
  /** The data of the correction. */
  onCorrect: (data: Record<string, unknown>) => void;
  onClose: () => void;
}

export function CorrectPanel({ entry, onCorrect, onClose }: Props) {
  const { state, family } = useRunState();
  const units = useUnits();
  const fields = fieldsOf(entry, state.run, family);
  const before = (key: string): string => {
    const value = entry.data?.[key];
    return value === undefined || value === null ? "" : String(value as string | number | boolean);
  };
  const [texts, setTexts] = useState<Record<string, string>>(() =>
    Object.fromEntries(fields.map((field) => [field.key, before(field.key)])),
  );
  const [why, setWhy] = useState("");
  const changed = fields.filter((field) => texts[field.key] !== before(field.key));
  const said = Object.fromEntries(
    changed.map(({ key, kind, read }) => {
      const text = (texts[key] ?? "").trim();
      return [key, read ? read(text) : kind ? assumeUnit(text, kind, units) : text];
    }),
  );
  const correct = (data: Record<string, unknown>) => {
    onCorrect({ event: entry.id, ...data, ...(why.trim() ? { why: why.trim() } : {}) });
    onClose();
  };
  return (
    <NamedDialog open onClose={onClose} name="Put it right">
      <Box
        component="form"
        sx={{ p: 3, width: 440, maxWidth: "100%" }}
        onSubmit={(event) => {
          event.preventDefault();
          if (changed.length > 0) correct(said);
        }}
      >
        <Typography variant="h2">Put it right</Typography>
        <Typography sx={{ mb: 2 }}>
          Written down: <b>{entryWords(entry, state.run, family)}</b>. That stays readable; what you say here
          counts.
        </Typography>
        {fields.map((field, i) => (
          <TextField
            key={field.key}
            label={field.label}
            value={texts[field.key]}
            autoFocus={i === fields.length - 1}
            select={field.choices !== undefined}
            fullWidth
            sx={{ mb: 2 }}
            slotProps={{ htmlInput: field.key === "count" ? { inputMode: "numeric" } : {} }}
            onChange={(event) => setTexts({ ...texts, [field.key]: event.target.value })}
          >
            {field.choices?.map((choice) => (
              <MenuItem key={choice.key} value={choice.key}>
                {choice.label}
              </MenuItem>
            ))}
          </TextField>
        ))}
        <TextField
          label="Why, if you like"
          value={why}
          fullWidth
          sx={{ mb: 2 }}
          onChange={(event) => setWhy(event.target.value)}
        />
        <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap" }}>
          {fields.length > 0 && (
            <Button type="submit" variant="contained" disabled={changed.length === 0}>
              Put it right
            </Button>
          )}
          <Button variant="outlined" onClick={() => correct({ gone: true })}>
            It never was
          </Button>
          <Button onClick={onClose}>Leave it</Button>
        </Box>
        <Typography variant="body2" sx={{ color: ink.soft, mt: 1.5 }}>
          All that follows is worked out again. If something later would become impossible, you are told so,
          and nothing is changed.
        </Typography>
      </Box>
    </NamedDialog>
  );
}
