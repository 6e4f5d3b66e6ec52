/** The brief: the one question, the bench to scale, the rules, what wins, and what can hurt someone. For the projector. */
import { Box, Typography } from "@mui/material";
import { formatLength, formatMass, formatPercent } from "../../app/format";
import { ink } from "../../app/theme";
import { useUnits } from "../../app/units";
import { BridgeElevation } from "../../drawing/BridgeElevation";
import { useRunState } from "../run/useRunState";
import { BREACH_POLICIES, SCHOOLS, TRIAL_RULES } from "./words";

export default function BriefPage() {
  const { state, family } = useRunState();
  const units = useUnits();
  const { run } = state;
  const length = (key: string) => {
    const value = run.setup[key];
    return value === null || value === undefined ? null : formatLength(value, units);
  };
  const [least, most, tape] = [length("overlap_min_m"), length("overlap_max_m"), length("tape_max_m")];
  const target = run.setup["target_kg"];
  const rests =
    least && most
      ? `${least} to ${most} on each side`
      : least
        ? `at least ${least} on each side`
        : most
          ? `at most ${most} on each side`
          : null;
  const rules: [string, string][] = [
    ["Spans", `${length("gap_m") ?? ""} with nothing under it`],
    ...(rests ? ([["Rests", rests]] as [string, string][]) : []),
    ...(tape ? ([["Tape", `${tape} at most, never papering the deck`]] as [string, string][]) : []),
    ["Counts", `when it stays up ${run.setup["hold_s"] ?? ""} s after each step`],
    ...(target ? ([["Aim for", formatMass(target, units)]] as [string, string][]) : []),
    ["Time", `${run.build_minutes} minutes to build`],
    [
      "Wins",
      `${SCHOOLS[run.school].label.toLowerCase()}; ${TRIAL_RULES[run.trial_rule].label.toLowerCase()}`,
    ],
    [
      "Rules",
      run.breach_policy === "penalty"
        ? `a broken rule costs ${formatPercent(run.penalty)}`
        : BREACH_POLICIES[run.breach_policy].label.toLowerCase(),
    ],
  ];
  const overlap = run.setup["overlap_min_m"] ?? run.setup["overlap_max_m"] ?? 0.03;
  return (
    <Box sx={{ pt: 3 }}>
      <Typography variant="h1" sx={{ fontSize: "3rem", maxWidth: 1120 }}>
        {run.question || run.name}
      </Typography>
      <Box sx={{ display: "grid", gridTemplateColumns: { md: "1fr 470px" }, gap: 6, mt: 3 }}>
        <Box sx={{ height: 330, alignSelf: "center" }}>
          <BridgeElevation
            gapM={run.setup["gap_m"] ?? 0.3}
            overlapLeftM={overlap}
            overlapRightM={overlap}
            stack={[]}
            gapLabel={length("gap_m") ?? ""}
          />
        </Box>
        <Box
          component="dl"
          sx={{ m: 0, display: "grid", gridTemplateColumns: "96px 1fr", rowGap: 1, alignContent: "start" }}
        >
          {rules.map(([term, text]) => (
            <Box key={term} sx={{ display: "contents" }}>
              <Typography component="dt" sx={{ color: ink.soft, fontSize: "1.25rem" }}>
                {term}
              </Typography>
              <Typography component="dd" sx={{ m: 0, fontWeight: 600, fontSize: "1.25rem" }}>
                {text}
              </Typography>
            </Box>
          ))}
        </Box>
      </Box>
      <Box
        sx={{
          display: "grid",
          gridTemplateColumns: { sm: "1fr 1fr", md: "repeat(3, 1fr)" },
          columnGap: 4,
          rowGap: 1.5,
          mt: 4,
          borderTop: `2px solid ${ink.ink}`,
          pt: 2,
        }}
      >
        {family.cautions
          .filter((caution) => caution.stages.includes("brief"))
          .map((caution) => (
            <Box key={caution.key} sx={{ display: "flex", gap: 1.25 }}>
              <svg
                width="22"
                height="20"
                viewBox="0 0 22 20"
                aria-hidden="true"
                style={{ flexShrink: 0, marginTop: 3 }}
              >
                <path
                  d="M11 1 21 19H1z"
                  fill={ink.watchFill}
                  stroke={ink.ink}
                  strokeWidth="1.6"
                  strokeLinejoin="round"
                />
                <path d="M11 7v6M11 15v2" stroke={ink.ink} strokeWidth="2" />
              </svg>
              <Typography variant="body2">
                <b>{caution.title}.</b> {caution.text}
              </Typography>
            </Box>
          ))}
      </Box>
    </Box>
  );
}
