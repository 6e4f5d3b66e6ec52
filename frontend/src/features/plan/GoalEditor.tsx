/** The goal: what wins, which trials count, what a tie and a broken rule do. For the planner and for a run. */
import { Box, MenuItem, TextField } from "@mui/material";
import { NumberField } from "../../shared/NumberField";
import { useGoalWords } from "../../api/queries";
import type { Family, TypedPlan, Words } from "../../api/types";

export type GoalParts = Pick<
  TypedPlan,
  "school" | "weights" | "trial_rule" | "tie_rule" | "breach_policy" | "penalty"
>;

interface Props {
  goal: GoalParts;
  family: Family;
  problems: Readonly<Record<string, string>>;
  onChange: (parts: Partial<GoalParts>) => void;
}

export function GoalEditor({ goal, family, problems, onChange }: Props) {
  const words = useGoalWords().data;
  if (!words) return null;
  const offered = family.schools.map((choice) => ({
    key: choice.school,
    label: words.schools.find((word) => word.key === choice.school)?.label ?? choice.school,
    why: choice.why,
  }));
  const choice = (label: string, key: keyof GoalParts, options: readonly Words[]) => (
    <TextField
      select
      label={label}
      value={goal[key] as string}
      error={key in problems}
      helperText={problems[key] ?? options.find((option) => option.key === goal[key])?.why}
      onChange={(e) => onChange({ [key]: e.target.value })}
    >
      {options.map((option) => (
        <MenuItem key={option.key} value={option.key}>
          {option.label}
        </MenuItem>
      ))}
    </TextField>
  );
  const parts = offered.filter((word) => word.key !== "mix");
  const weights = goal.weights ?? {};
  return (
    <>
      <Box sx={{ display: "grid", gridTemplateColumns: { sm: "1fr 1fr", md: "repeat(4, 1fr)" }, gap: 2 }}>
        {choice("Score", "school", offered)}
        {choice("Trials", "trial_rule", words.trial_rules)}
        {choice("If equal", "tie_rule", words.tie_rules)}
        {choice("A broken rule", "breach_policy", words.breach_policies)}
      </Box>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 2, mt: 2 }}>
        {goal.school === "mix" &&
          parts.map((part) => (
            <NumberField
              key={part.key}
              label={`Weight: ${part.label.toLowerCase()}`}
              value={weights[part.key] ?? 0}
              error={"weights" in problems}
              onNumber={(value) => onChange({ weights: { ...weights, [part.key]: value ?? 0 } })}
              sx={{ width: 210 }}
            />
          ))}
        {goal.breach_policy === "penalty" && (
          <NumberField
            label="Taken off for a breach, %"
            value={Math.round(goal.penalty * 100)}
            error={"penalty" in problems}
            helperText={problems["penalty"]}
            onNumber={(value) => onChange({ penalty: (value ?? 0) / 100 })}
            sx={{ width: 190 }}
          />
        )}
      </Box>
      {"weights" in problems && (
        <Box sx={{ color: "primary.main", fontWeight: 600 }}>{problems["weights"]}</Box>
      )}
    </>
  );
}
