/** What the class has taught the model, and whether that is used. */
import { Box, Button, Typography } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { answered, api } from "../../api/client";
import { keys, showAnswer, useExperience } from "../../api/queries";
import type { Experience } from "../../api/types";
import { formatMass, plural } from "../../shared/format";
import { Notice, sentenceOf } from "../../shared/states";
import { ink } from "../../shared/theme";
import { useUnits } from "../../shared/units";
import { useRunState } from "../run";

export function ExperiencePanel() {
  const { state } = useRunState();
  const experience = useExperience(state.run.id);
  if (!experience.data || experience.data.length === 0) return null;
  return (
    <Box component="section" sx={{ width: 360, maxWidth: "100%", mt: 3 }}>
      <Typography variant="h2">Your class and the model</Typography>
      {experience.data.map((finding) => (
        <Finding key={finding.material} finding={finding} run={state.run.id} />
      ))}
    </Box>
  );
}

function Finding({ finding, run }: { finding: Experience; run: number }) {
  const units = useUnits();
  const client = useQueryClient();
  const use = useMutation({
    mutationFn: (applied: boolean) =>
      answered(
        api.PUT("/api/runs/{id}/experience", {
          params: { path: { id: run } },
          body: { material: finding.material, applied },
        }),
      ),
    onSuccess: async (fresh) => {
      showAnswer(client, keys.experience(run), fresh);
      await client.invalidateQueries({ queryKey: keys.run(run) });
      await client.invalidateQueries({ queryKey: ["draft"] });
    },
  });
  const { applied, calibration } = finding;
  const newer = applied !== null && calibration !== null && calibration.count !== applied.count;
  return (
    <Box sx={{ py: 1, borderBottom: `1px solid ${ink.line}` }}>
      <Typography>{finding.says}</Typography>
      {finding.pairs.map((pair, i) => (
        <Typography key={i} variant="body2" sx={{ color: ink.soft }}>
          {pair.team} held {formatMass(pair.measured_kg, units)}, the model said{" "}
          {formatMass(pair.predicted_kg, units)}
        </Typography>
      ))}
      {applied && (
        <Typography sx={{ fontWeight: 600, color: ink.held }}>
          ✓ Used: the model times {Number(applied.correction.toPrecision(2))}, from{" "}
          {applied.count > 0 ? `${applied.count} ${plural("trial", applied.count)}` : "your other classes"}.
        </Typography>
      )}
      <Box sx={{ display: "flex", gap: 1, mt: 0.5 }}>
        {(applied === null || newer) && calibration && (
          <Button variant="outlined" size="small" onClick={() => use.mutate(true)} disabled={use.isPending}>
            {newer ? "Use the newer" : "Use it"}
          </Button>
        )}
        {applied && (
          <Button size="small" onClick={() => use.mutate(false)} disabled={use.isPending}>
            Back to the model alone
          </Button>
        )}
      </Box>
      {use.isError && <Notice kind="problem">{sentenceOf(use.error)}</Notice>}
    </Box>
  );
}
