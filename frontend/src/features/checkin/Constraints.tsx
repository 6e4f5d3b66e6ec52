/** The rules of the challenge held against a design. */
import { Box, Typography } from "@mui/material";
import type { Design } from "../../api/types";
import { formatPercent } from "../../shared/format";
import { Notice } from "../../shared/states";
import { ink } from "../../shared/theme";
import { useRunState } from "../run";

const STATUS = {
  kept: { word: "kept", colour: ink.held, sign: "✓" },
  doubtful: { word: "too close", colour: ink.watch, sign: "≈" },
  breached: { word: "broken", colour: ink.oxide, sign: "✕" },
  missing: { word: "to do", colour: ink.soft, sign: "·" },
} as const;

export function Constraints({ design }: { design: Design }) {
  const { state, family } = useRunState();
  const asked = new Set(family.questions.map((question) => question.key));
  const measured = design.constraints.filter((constraint) => !asked.has(constraint.key));
  const breached = design.constraints.some((constraint) => constraint.status === "breached");
  const { breach_policy, penalty } = state.run;
  const consequence = {
    refuse: "This recipe tests no design that breaks a rule. Mend it and measure again.",
    penalty: `This recipe takes ${formatPercent(penalty)} off the score for a broken rule.`,
    note: "This recipe ranks it anyway, with a note.",
  }[breach_policy];
  return (
    <Box>
      {measured.map((rule) => {
        const { word, colour, sign } = STATUS[rule.status];
        return (
          <Box key={rule.key} sx={{ display: "grid", gridTemplateColumns: "92px 1fr", py: 0.4 }}>
            <Typography sx={{ fontWeight: 700, color: colour }}>
              <span aria-hidden="true">{sign}</span> {word}
            </Typography>
            <Typography>
              <b>{rule.label}.</b> {rule.sentence}
            </Typography>
          </Box>
        );
      })}
      {breached && <Notice kind="caution">{consequence}</Notice>}
    </Box>
  );
}
