/** The settings of a draft: a slider with its value in the teacher's own words, a choice, or a material. */
import { Box, MenuItem, Slider, TextField, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import { useState } from "react";
import type { DraftParam, Stock } from "../../api/types";
import { typedText } from "../../shared/format";
import { assumeUnit } from "../../shared/assumeUnit";
import { ink } from "../../shared/theme";
import { useUnits } from "../../shared/units";
import { chosen, type DraftState } from "./draftState";

interface Props {
  params: readonly DraftParam[];
  typed: DraftState["typed"];
  /** Values as the rules read them [SI], for the sliders. */
  values: Readonly<Record<string, number>>;
  stocks: readonly Stock[];
  problems: Readonly<Record<string, string>>;
  onTyped: (key: string, text: string) => void;
  columns?: number;
}

export function Controls({ params, columns = 1, ...rest }: Props) {
  return (
    <Box
      sx={{
        display: "grid",
        gridTemplateColumns: { md: `repeat(${columns}, 1fr)` },
        columnGap: 3,
        rowGap: 0.5,
      }}
    >
      {params.map((param) =>
        param.forms.length > 0 ? (
          <Material key={param.key} param={param} {...rest} />
        ) : param.kind === null ? (
          <Choice key={param.key} param={param} {...rest} />
        ) : (
          <Amount key={param.key} param={param} {...rest} />
        ),
      )}
    </Box>
  );
}

type One = Omit<Props, "params" | "columns"> & { param: DraftParam };

const ROW = {
  display: "grid",
  gridTemplateColumns: "minmax(96px, 1fr) minmax(84px, 1fr) 92px",
  gap: 1.25,
  alignItems: "center",
  minHeight: 40,
} as const;

function Label({ param, problem }: { param: DraftParam; problem: string | undefined }) {
  return (
    <Typography
      component="label"
      htmlFor={`draft-${param.key}`}
      id={`label-${param.key}`}
      title={param.why}
      sx={{ fontWeight: 600, fontSize: "1rem", lineHeight: 1.15, color: problem ? ink.oxide : ink.ink }}
    >
      {param.label}
    </Typography>
  );
}

function Problem({ text }: { text: string | undefined }) {
  if (!text) return null;
  return (
    <Typography
      role="alert"
      sx={{ gridColumn: "1 / -1", color: ink.oxide, fontWeight: 600, fontSize: "0.95rem" }}
    >
      {text}
    </Typography>
  );
}

function Amount({ param, typed, values, problems, onTyped }: One) {
  const units = useUnits();
  const kind = param.kind ?? "count";
  // What a slider was last moved to, until the rules have read it; what is typed by hand is read by them alone.
  const [moved, setMoved] = useState<{ text: string; value: number } | null>(null);
  const text = typed[param.key] ?? "";
  const value = moved?.text === text ? moved.value : (values[param.key] ?? param.low);
  return (
    <Box sx={ROW}>
      <Label param={param} problem={problems[param.key]} />
      <Slider
        size="small"
        aria-labelledby={`label-${param.key}`}
        min={param.low}
        max={param.high}
        step={param.step}
        value={Math.min(Math.max(value, param.low), param.high)}
        valueLabelDisplay="off"
        getAriaValueText={(at) => typedText(at, kind, units)}
        onChange={(_, at) => {
          const next = typedText(at, kind, units);
          setMoved({ text: next, value: at });
          onTyped(param.key, next);
        }}
        sx={{
          "& .MuiSlider-thumb": { borderRadius: 0, width: 12, height: 20 },
          "& .MuiSlider-rail": { opacity: 1, bgcolor: ink.line },
        }}
      />
      <TextField
        id={`draft-${param.key}`}
        value={text}
        error={param.key in problems}
        onChange={(event) => onTyped(param.key, event.target.value)}
        onBlur={() => {
          const meant = kind === "count" ? text : assumeUnit(text, kind, units);
          if (meant !== text) onTyped(param.key, meant);
        }}
        slotProps={{ htmlInput: { style: { padding: "5px 8px" }, autoComplete: "off" } }}
      />
      <Problem text={problems[param.key]} />
    </Box>
  );
}

function Choice({ param, typed, problems, onTyped }: One) {
  const value = chosen(param, typed);
  const small = param.options.length <= 5 && param.options.map((option) => option.label).join("").length < 44;
  return (
    <Box sx={{ ...ROW, gridTemplateColumns: "minmax(96px, 1fr) minmax(188px, 2fr)" }}>
      <Label param={param} problem={problems[param.key]} />
      {small ? (
        <ToggleButtonGroup
          exclusive
          size="small"
          id={`draft-${param.key}`}
          aria-labelledby={`label-${param.key}`}
          value={value}
          onChange={(_, next: string | null) => {
            if (next) onTyped(param.key, next);
          }}
          sx={{
            flexWrap: "wrap",
            "& .MuiToggleButton-root": { px: 1.25, py: 0.25, textTransform: "none", fontSize: "0.95rem" },
          }}
        >
          {param.options.map((option) => (
            <ToggleButton key={option.key} value={option.key}>
              {option.label}
            </ToggleButton>
          ))}
        </ToggleButtonGroup>
      ) : (
        <Select
          id={`draft-${param.key}`}
          value={value}
          onPick={(next) => onTyped(param.key, next)}
          options={param.options}
          label={param.key}
        />
      )}
      <Problem text={problems[param.key]} />
    </Box>
  );
}

function Material({ param, typed, stocks, problems, onTyped }: One) {
  const options = stocks
    .filter((stock) => param.forms.includes(stock.form))
    .map((stock) => ({ key: stock.key, label: stock.measured ? `${stock.name}, measured` : stock.name }));
  return (
    <Box sx={{ ...ROW, gridTemplateColumns: "minmax(96px, 1fr) minmax(188px, 2fr)" }}>
      <Label param={param} problem={problems[param.key]} />
      <Select
        id={`draft-${param.key}`}
        value={options.some((option) => option.key === chosen(param, typed)) ? chosen(param, typed) : ""}
        onPick={(next) => onTyped(param.key, next)}
        options={options}
        label={param.key}
      />
      <Problem text={problems[param.key]} />
    </Box>
  );
}

interface SelectProps {
  id: string;
  label: string;
  value: string;
  options: readonly { key: string; label: string }[];
  onPick: (key: string) => void;
}

function Select({ id, label, value, options, onPick }: SelectProps) {
  return (
    <TextField
      select
      fullWidth
      value={value}
      onChange={(event) => onPick(event.target.value)}
      slotProps={{
        select: {
          id,
          SelectDisplayProps: {
            style: { padding: "6px 30px 6px 10px" },
            "aria-labelledby": `label-${label}`,
          },
        },
      }}
    >
      {options.map((option) => (
        <MenuItem key={option.key} value={option.key}>
          {option.label}
        </MenuItem>
      ))}
    </TextField>
  );
}
