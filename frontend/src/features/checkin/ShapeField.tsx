/** An area from lengths: which shape it is, and its sides, corners or squares. It writes what the reading holds. */
import { Box, MenuItem, TextField } from "@mui/material";
import { useState } from "react";
import { assumeUnit } from "../../shared/assumeUnit";
import { useUnits } from "../../shared/units";

interface ShapeKind {
  key: string;
  label: string;
  fields: readonly { key: string; label: string; count?: boolean }[];
  typed: (values: readonly string[]) => string;
}

const SHAPES: readonly ShapeKind[] = [
  {
    key: "rectangle",
    label: "Rectangle",
    fields: [
      { key: "a", label: "Long side" },
      { key: "b", label: "Short side" },
    ],
    typed: ([a, b]) => `${a} x ${b}`,
  },
  {
    key: "circle",
    label: "Circle",
    fields: [{ key: "a", label: "Across" }],
    typed: ([a]) => `circle ${a}`,
  },
  {
    key: "triangle",
    label: "Triangle",
    fields: [
      { key: "a", label: "One side" },
      { key: "b", label: "Another" },
      { key: "c", label: "The third" },
    ],
    typed: (sides) => `triangle ${sides.join(", ")}`,
  },
  {
    key: "squares",
    label: "Squares counted",
    fields: [
      { key: "n", label: "How many", count: true },
      { key: "a", label: "Side of one" },
    ],
    typed: ([n, a]) => `${n} squares of ${a}`,
  },
  {
    key: "corners",
    label: "By its corners",
    fields: [{ key: "points", label: "Across and up: 0 0, 30 0, 30 20 cm", count: true }],
    typed: ([points]) => `corners ${points}`,
  },
];

export function ShapeField({ onShape }: { onShape: (typed: string) => void }) {
  const units = useUnits();
  const [key, setKey] = useState("rectangle");
  const [texts, setTexts] = useState<Record<string, string>>({});
  const shape = SHAPES.find((known) => known.key === key);
  if (!shape) return null;
  const tell = (kind: ShapeKind, typed: Readonly<Record<string, string>>) => {
    const values = kind.fields.map((field) => {
      const text = (typed[field.key] ?? "").trim();
      return field.count ? text : assumeUnit(text, "length", units);
    });
    if (values.every((value) => value !== "")) onShape(kind.typed(values));
  };
  return (
    <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1, my: 1 }}>
      <TextField
        select
        label="Shape"
        value={key}
        onChange={(event) => {
          setKey(event.target.value);
          setTexts({});
        }}
        sx={{ width: 170 }}
      >
        {SHAPES.map((known) => (
          <MenuItem key={known.key} value={known.key}>
            {known.label}
          </MenuItem>
        ))}
      </TextField>
      {shape.fields.map((field) => (
        <TextField
          key={field.key}
          label={field.label}
          value={texts[field.key] ?? ""}
          sx={{ flex: shape.fields.length === 1 ? "1 1 260px" : "0 0 130px" }}
          onChange={(event) => {
            const typed = { ...texts, [field.key]: event.target.value };
            setTexts(typed);
            tell(shape, typed);
          }}
        />
      ))}
    </Box>
  );
}
