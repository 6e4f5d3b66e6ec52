/** The upper left of the bench: whose trial it is, the large figure, the wait, and what stands beside and below. */
import { Box, Typography } from "@mui/material";
import { useComparison, whyOfRun, type Why } from "../../api/queries";
import type { Design, TrialResult, TrialState } from "../../api/types";
import { condensed, ink } from "../../shared/theme";
import { WhyNumber } from "../../shared/Why";
import { useRunState } from "../run";
import { HoldBox } from "./HoldBox";
import { StepControl } from "./StepControl";
import type { TrialWords } from "./trialWords";
import type { useWait } from "./useWait";

interface Props {
  design: Design;
  state: TrialState;
  shown: TrialResult;
  words: TrialWords;
  wait: ReturnType<typeof useWait>;
  /** For an attack against the clock: whether its clock was started. */
  clockOn: boolean;
}

/** A window of a laptop with its bars, too low for one under the other. */
const LOW = "@media (max-height: 720px) and (min-width: 900px)";

interface LargeProps {
  words: TrialWords;
  outcome: TrialResult["outcome"];
  /** What the figure is asked of, where it is a load. */
  why: Why | null;
}

function LargeFigure({ words, outcome, why }: LargeProps) {
  const figure = (
    <>
      {words.figure.value}{" "}
      <Box
        component="span"
        sx={{ fontSize: words.figure.unit.length > 3 ? "0.24em" : "0.36em", ml: "-0.25em" }}
      >
        {words.figure.unit}
      </Box>
    </>
  );
  return (
    <Box sx={{ flex: 1, minHeight: 96, containerType: "size", display: "flex", alignItems: "center" }}>
      <Box
        data-figure="held"
        sx={{
          fontFamily: condensed,
          fontWeight: 700,
          // As large as the room it has: three digits and a point are about as wide as two heights.
          fontSize: "min(33cqw, 104cqh)",
          lineHeight: 0.9,
          fontVariantNumeric: "tabular-nums",
          whiteSpace: "nowrap",
          color: outcome === "broke" || outcome === "void" ? ink.broke : ink.held,
        }}
      >
        {why ? (
          <WhyNumber why={why} sx={{ textDecoration: "none" }}>
            {figure}
          </WhyNumber>
        ) : (
          figure
        )}
      </Box>
    </Box>
  );
}

export function TrialHead({ design, state, shown, words, wait, clockOn }: Props) {
  const { state: runState, family, atStation } = useRunState();
  const plan = state.round_plan;
  const running = shown.outcome === "running";
  // Where pieces are counted or rounds made, the large figure is no load.
  const weighed = plan === null && !family.bench.counts_pieces && !runState.run.young;
  const way = family.bench.arrangements.find((way) => way.key === state.arrangement);
  return (
    <Box sx={{ minHeight: 0, display: "flex", flexDirection: "column" }}>
      <Typography component="h1" sx={{ fontSize: "1.35rem", pt: 1 }}>
        {design.team.name}
        {design.version > 1 && `, version ${design.version}`}, {state.rehearsal ? "rehearsal" : "trial"}{" "}
        {state.number}
        {way && `, ${way.label.toLowerCase()}`}. {words.how && `${words.how}. `}
        <b>{words.lead}</b>
        {state.mark && (
          <Box component="span" sx={{ color: ink.watch, fontWeight: 600 }}>
            , {state.mark}
          </Box>
        )}
      </Typography>
      <Box
        sx={{
          flex: 1,
          minHeight: 0,
          display: "flex",
          flexDirection: "column",
          // In a low window the wait stands beside the figure.
          [LOW]: { flexDirection: "row", columnGap: 2, minHeight: 110 },
        }}
      >
        <LargeFigure
          words={words}
          outcome={shown.outcome}
          why={weighed && !atStation ? whyOfRun(runState.run.id, "held", state.id) : null}
        />
        <Box
          sx={{
            display: "flex",
            flexWrap: { xs: "wrap", sm: "nowrap" },
            alignItems: "center",
            columnGap: 3,
            minHeight: 62,
            [LOW]: {
              flexWrap: "wrap",
              alignContent: "center",
              rowGap: 0.5,
              maxWidth: "58%",
              overflow: "hidden",
            },
          }}
        >
          {wait.waiting !== null && running && wait.holdS > 0 && (
            <HoldBox
              key={wait.waiting}
              id={wait.waiting}
              holdS={wait.holdS}
              onBegan={wait.onBegan}
              onOver={wait.onOver}
            />
          )}
          {clockOn && plan?.attack_s && running && (
            <HoldBox key="attack" id="attack" holdS={plan.attack_s} over="Time! Hands down." />
          )}
          {words.second && (
            <Box>
              <Box
                component="span"
                data-figure="ratio"
                sx={{ fontFamily: condensed, fontWeight: 700, fontSize: "2.9rem", lineHeight: 1 }}
              >
                {weighed && state.ratio && !atStation ? (
                  <WhyNumber why={whyOfRun(runState.run.id, "ratio", state.id)}>
                    {words.second.figure}
                  </WhyNumber>
                ) : (
                  words.second.figure
                )}
              </Box>{" "}
              <Box component="span" sx={{ fontSize: "1.2rem", ml: 0.5 }}>
                {words.second.says}
              </Box>
            </Box>
          )}
          {running && words.plan && (
            <Typography sx={{ flex: 1, minWidth: 0, color: ink.soft, lineHeight: 1.25 }}>
              {words.plan}
            </Typography>
          )}
          {running &&
            wait.waiting === null &&
            runState.run.kit.length > 0 &&
            !runState.run.young &&
            !atStation &&
            plan === null && (
              <Box sx={{ ml: "auto" }}>
                <StepControl trialId={state.id} />
              </Box>
            )}
          {plan === null && !words.second && !words.plan && !state.self_mass && !runState.run.young && (
            <Typography sx={{ color: ink.watch }}>
              Own weight not taken: no ratio yet. It can be weighed afterwards.
            </Typography>
          )}
        </Box>
      </Box>
      <Typography
        sx={{
          color: ink.soft,
          mt: 0.5,
          whiteSpace: { sm: "nowrap" },
          overflow: "hidden",
          textOverflow: "ellipsis",
        }}
      >
        {weighed && state.estimate && !atStation ? (
          <WhyNumber why={whyOfRun(runState.run.id, "expected", state.id)}>{words.foot}</WhyNumber>
        ) : (
          words.foot
        )}
      </Typography>
      {/* Only what is written down counts: an end that waits for the network leads nobody. */}
      {state.result.outcome !== "running" &&
        state.result.outcome !== "void" &&
        !state.rehearsal &&
        !atStation && <WhoLeads />}
    </Box>
  );
}

/** Once a trial has ended: who won today, and whether they would win again. */
function WhoLeads() {
  const { run } = useRunState().state;
  const { data } = useComparison(run.id, run);
  if (!data || data.ranked.length === 0) return null;
  return (
    <Typography data-testid="who-leads" sx={{ mt: 0.5 }}>
      <b>{data.headline}</b> {data.again}
    </Typography>
  );
}
