/** A panel that asks for one or two typed values with their units. */
import { Box, Button, TextField, Typography } from "@mui/material";
import { NamedDialog } from "../../shared/NamedDialog";
import { useState, type ReactNode } from "react";
import type { QuantityKind } from "../../api/types";
import { assumeUnit } from "../../shared/assumeUnit";
import { useUnits } from "../../shared/units";

export interface ValueField {
  key: string;
  label: string;
  initial: string;
  /** What it measures; a figure without a unit gets the one that is meant. */
  kind?: QuantityKind;
}

interface Props {
  title: string;
  note: string;
  fields: readonly ValueField[];
  /** Takes the texts as typed; the server reads them and says what is wrong with them. */
  onSave: (texts: Record<string, string>) => void;
  onClose: () => void;
  /** Another way to the value. */
  children?: ReactNode;
}

export function ValuePanel({ title, note, fields, onSave, onClose, children }: Props) {
  const units = useUnits();
  const [texts, setTexts] = useState<Record<string, string>>(() =>
    Object.fromEntries(fields.map((f) => [f.key, f.initial])),
  );
  return (
    <NamedDialog open onClose={onClose} name={title}>
      <Box
        component="form"
        sx={{ p: 3, maxWidth: 460 }}
        onSubmit={(event) => {
          event.preventDefault();
          const meant = fields.map(({ key, kind }) => {
            const text = texts[key] ?? "";
            return [key, kind ? assumeUnit(text, kind, units) : text];
          });
          onSave(Object.fromEntries(meant) as Record<string, string>);
        }}
      >
        <Typography variant="h2">{title}</Typography>
        <Typography sx={{ mb: 2 }}>{note}</Typography>
        {children && <Box sx={{ mb: 2.5 }}>{children}</Box>}
        {fields.map((field, i) => (
          <TextField
            key={field.key}
            label={field.label}
            value={texts[field.key]}
            autoFocus={i === 0}
            fullWidth
            sx={{ mb: 2 }}
            onChange={(e) => setTexts({ ...texts, [field.key]: e.target.value })}
          />
        ))}
        <Button type="submit" variant="contained">
          Write it down
        </Button>
        <Button onClick={onClose}>Leave it</Button>
      </Box>
    </NamedDialog>
  );
}
