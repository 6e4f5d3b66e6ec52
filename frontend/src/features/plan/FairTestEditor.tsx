/** The fair test: what is varied on purpose and with which levels, and what is kept the same. */
import { Box, Button, TextField, Typography } from "@mui/material";
import type { FactorIdea, TypedPlan } from "../../api/types";
import { ink } from "../../shared/theme";

type Factor = NonNullable<TypedPlan["factor"]>;

interface Props {
  factor: Factor | null;
  controls: readonly string[];
  /** What is worth varying, for what is built with. */
  ideas: readonly FactorIdea[];
  levels: readonly string[];
  problems: Readonly<Record<string, string>>;
  onFactor: (factor: Factor | null) => void;
  onControls: (controls: string[]) => void;
}

export function FairTestEditor({ factor, controls, ideas, levels, problems, onFactor, onControls }: Props) {
  const counts = [...new Set(levels)].map(
    (level) => `${level} ${levels.filter((given) => given === level).length}×`,
  );
  return (
    <>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1, alignItems: "center", mb: 1.5 }}>
        <Typography>Vary on purpose:</Typography>
        {ideas.map((idea) => (
          <Button
            key={idea.name}
            size="small"
            variant={factor?.name === idea.name ? "contained" : "outlined"}
            title={idea.why}
            onClick={() => onFactor({ name: idea.name, levels: [...idea.levels] })}
          >
            {idea.name}
          </Button>
        ))}
        <Button
          size="small"
          variant={factor === null ? "contained" : "outlined"}
          onClick={() => onFactor(null)}
        >
          nothing
        </Button>
      </Box>
      {factor && (
        <Box sx={{ display: "grid", gridTemplateColumns: { sm: "200px 1fr" }, gap: 1.5 }}>
          <TextField
            label="What is varied"
            value={factor.name}
            error={"factor.name" in problems}
            helperText={problems["factor.name"]}
            onChange={(e) => onFactor({ ...factor, name: e.target.value })}
          />
          <TextField
            label="Levels, with commas between"
            value={factor.levels.join(", ")}
            error={"factor.levels" in problems}
            helperText={
              problems["factor.levels"] ??
              (counts.length > 0 ? `Dealt out to the teams: ${counts.join(", ")}.` : "")
            }
            onChange={(e) => onFactor({ ...factor, levels: e.target.value.split(/, ?/) })}
          />
        </Box>
      )}
      <TextField
        label="Kept the same, one on each line"
        multiline
        fullWidth
        minRows={2}
        value={controls.join("\n")}
        onChange={(e) => onControls(e.target.value.split("\n"))}
        sx={{ mt: 2 }}
      />
      <Typography variant="body2" sx={{ color: ink.soft, mt: 0.5 }}>
        {factor
          ? ideas.find((idea) => idea.name === factor.name)?.why
          : "Every team designs freely; that is fine for a contest, and says little about why."}
      </Typography>
    </>
  );
}
