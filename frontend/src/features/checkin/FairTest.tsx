/** What a fair test asks of a design: what was kept the same, and what it varies on purpose. */
import { Box, Button, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import { answered, api } from "../../api/client";
import type { Design, Run } from "../../api/types";
import { Notice, sentenceOf } from "../../shared/states";
import { ink } from "../../shared/theme";
import { useRunState } from "../run";
import { useCheckInWrite } from "./useCheckInWrite";

/** The controls of the fair test: kept the same, or noted where not. */
export function Controls({ design }: { design: Design }) {
  const { state } = useRunState();
  const broken = new Set(design.controls_broken);
  const write = useCheckInWrite<string[]>(design, {
    send: (names, signal) =>
      answered(
        api.PUT("/api/designs/{id}/controls", {
          params: { path: { id: design.id } },
          body: { broken: names },
          signal,
        }),
      ),
    keep: (names) => ({ controls_broken: { value: names, before: design.controls_broken } }),
    shown: (own, names) => ({ ...own, controls_broken: names }),
  });
  if (state.run.controls.length === 0) return null;
  return (
    <Box sx={{ mt: 1.5 }}>
      <Typography sx={{ fontWeight: 600 }}>
        Kept the same for every team{" "}
        <Typography component="span" variant="body2" sx={{ color: ink.soft }}>
          Press what was not.
        </Typography>
      </Typography>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.75, mt: 0.5 }}>
        {state.run.controls.map((name) => (
          <Button
            key={name}
            size="small"
            variant={broken.has(name) ? "contained" : "outlined"}
            aria-pressed={broken.has(name)}
            sx={{ py: 0, fontSize: "0.95rem", fontWeight: 400 }}
            onClick={() =>
              write.mutate(broken.has(name) ? [...broken].filter((key) => key !== name) : [...broken, name])
            }
          >
            {broken.has(name) ? `not kept: ${name}` : `✓ ${name}`}
          </Button>
        ))}
      </Box>
      {write.isError && <Notice kind="problem">{sentenceOf(write.error)}</Notice>}
    </Box>
  );
}

/** Which level of the fair test this design is built to. */
export function LevelChoice({ design, factor }: { design: Design; factor: NonNullable<Run["factor"]> }) {
  const write = useCheckInWrite<string>(design, {
    send: (level, signal) =>
      answered(
        api.PUT("/api/designs/{id}/level", { params: { path: { id: design.id } }, body: { level }, signal }),
      ),
    keep: (level) => ({ level: { value: level, before: design.level } }),
    shown: (own, level) => ({ ...own, level }),
  });
  return (
    <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1.5, alignItems: "center", py: 1 }}>
      <Typography sx={{ fontSize: "1.1rem" }}>
        Varied on purpose, <b>{factor.name}</b>:
      </Typography>
      <ToggleButtonGroup
        exclusive
        size="small"
        aria-label={factor.name}
        value={design.level}
        disabled={design.trials.length > 0}
        onChange={(_, value: string | null) => value && write.mutate(value)}
        sx={{ "& .MuiToggleButton-root": { px: 2, py: 0.3, textTransform: "none", fontSize: "1rem" } }}
      >
        {factor.levels.map((level) => (
          <ToggleButton key={level} value={level}>
            {level}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      {write.isError && <Notice kind="problem">{sentenceOf(write.error)}</Notice>}
    </Box>
  );
}
