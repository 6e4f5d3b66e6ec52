/** The answers from which a plan is proposed: what is built, who builds, how long, how many, how hard. */
import {
  Box,
  Button,
  MenuItem,
  Slider,
  TextField,
  ToggleButton,
  ToggleButtonGroup,
  Typography,
} from "@mui/material";
import { useClasses } from "../../api/queries";
import type { AgeBand, Family } from "../../api/types";
import { NumberField } from "../../shared/NumberField";
import { ink } from "../../shared/theme";
import { AGES, type Answers } from "./planState";

const DIAL = ["much easier", "easier", "usual", "harder", "much harder"] as const;

export function AnswerRow(props: {
  family: Family;
  answers: Answers;
  problems: Readonly<Record<string, string>>;
  onChange: (answers: Answers) => void;
  onOtherFamily: () => void;
}) {
  const { family, answers, problems, onChange, onOtherFamily } = props;
  const classes = useClasses().data ?? [];
  const known = classes.find((schoolClass) => schoolClass.teams.length === answers.teams);
  const toggle = {
    "& .MuiToggleButton-root": { px: 1.4, py: 0.5, textTransform: "none", fontSize: "1rem" },
  } as const;
  const number = (key: "minutes" | "teams" | "students", label: string, width: number) => (
    <NumberField
      label={label}
      value={answers[key] ?? null}
      error={key in problems}
      helperText={problems[key]}
      onNumber={(value) => onChange({ ...answers, [key]: key === "students" ? value : (value ?? 0) })}
      sx={{ width: key in problems ? 300 : width }}
    />
  );
  return (
    <Box sx={{ display: "flex", flexWrap: "wrap", gap: 2.5, alignItems: "start", mt: 1, mb: 2 }}>
      <Box>
        <Typography variant="body2" sx={{ color: ink.soft }}>
          What is built
        </Typography>
        <Typography sx={{ fontWeight: 700, fontSize: "1.3rem", lineHeight: 1.2 }}>
          {family.name}{" "}
          <Button size="small" onClick={onOtherFamily}>
            another
          </Button>
        </Typography>
      </Box>
      <Box>
        <Typography variant="body2" sx={{ color: ink.soft }}>
          Ages
        </Typography>
        <ToggleButtonGroup
          exclusive
          size="small"
          aria-label="Ages"
          value={answers.age_band}
          sx={{ ...toggle, flexWrap: "wrap" }}
          onChange={(_, value: AgeBand | null) => value && onChange({ ...answers, age_band: value })}
        >
          {(Object.keys(AGES) as AgeBand[]).map((band) => (
            <ToggleButton key={band} value={band}>
              {AGES[band]}
            </ToggleButton>
          ))}
        </ToggleButtonGroup>
      </Box>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1.5, mt: 1.5 }}>
        {number("minutes", "Minutes", 92)}
        <TextField
          select
          label="Class"
          value={known ? String(known.id) : ""}
          onChange={(e) => {
            const picked = classes.find((schoolClass) => String(schoolClass.id) === e.target.value);
            if (picked) onChange({ ...answers, teams: Math.max(1, picked.teams.length) });
          }}
          sx={{ width: 170 }}
          slotProps={{ select: { displayEmpty: true } }}
        >
          <MenuItem value="">another number</MenuItem>
          {classes.map((schoolClass) => (
            <MenuItem key={schoolClass.id} value={String(schoolClass.id)}>
              {schoolClass.name}, {schoolClass.teams.length} teams
            </MenuItem>
          ))}
        </TextField>
        {number("teams", "Teams", 84)}
        {number("students", "Students", 92)}
      </Box>
      <Box sx={{ width: 178, px: 1 }}>
        <Typography variant="body2" sx={{ color: ink.soft, mx: -1 }}>
          How hard: <b style={{ color: ink.ink }}>{DIAL[answers.difficulty + 2]}</b>
        </Typography>
        <Slider
          size="small"
          aria-label="How hard"
          min={-2}
          max={2}
          step={1}
          marks
          track={false}
          value={answers.difficulty}
          getAriaValueText={(value) => DIAL[value + 2] ?? ""}
          onChange={(_, value) => onChange({ ...answers, difficulty: Number(value) })}
        />
      </Box>
    </Box>
  );
}
