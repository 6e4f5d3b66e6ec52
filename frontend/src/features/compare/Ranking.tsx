/** The ranking with the verdicts between, load against own weight beside it, and below what does not stand in it. */
import { Box, Button, Link, Typography } from "@mui/material";
import { Link as RouterLink } from "react-router";
import { whyOfRun } from "../../api/queries";
import type { DrawnComparison } from "../../api/types";
import { TeamMark } from "../../drawing/TeamMark";
import { Figures } from "../../shared/Figures";
import { formatMass } from "../../shared/format";
import { Empty } from "../../shared/states";
import { ink } from "../../shared/theme";
import { useUnits } from "../../shared/units";
import { trialAddress } from "../bench";
import { useRunState } from "../run";
import { AlsoMeasured } from "./AlsoMeasured";
import { DrawnChart } from "./FramedChart";

/** Every trial of the run, each the way to what it still allows. */
function TrialLinks() {
  const { state } = useRunState();
  const tested = state.designs.filter((design) => design.trials.length > 0);
  if (tested.length === 0) return null;
  return (
    <Box
      component="nav"
      aria-label="Trials"
      sx={{ display: "flex", flexWrap: "wrap", columnGap: 2.5, pt: 0.5, "@media print": { display: "none" } }}
    >
      <Typography sx={{ color: ink.soft }}>Trials, to look at or put right:</Typography>
      {tested.map((design) => (
        <Typography key={design.id}>
          {design.team.name}
          {design.version > 1 && ` v${design.version}`}{" "}
          {design.trials.map((trial) => (
            <Link
              key={trial.id}
              component={RouterLink}
              to={trialAddress(state.run.id, design.id, trial.id)}
              aria-label={`Trial ${trial.number} of ${design.team.name}, version ${design.version}`}
              sx={{ color: ink.oxide, fontWeight: 600, px: 0.4 }}
            >
              {trial.number}
            </Link>
          ))}
        </Typography>
      ))}
    </Box>
  );
}

/** What could have decided besides the designs, void trials, and designs without a place. */
function BelowTheRanking({ comparison }: { comparison: DrawnComparison }) {
  const { state } = useRunState();
  const units = useUnits();
  const decided = comparison.differences.filter((difference) => difference.decides);
  return (
    <Box sx={{ borderTop: `1px solid ${ink.line}`, mt: 1.5, pt: 1 }}>
      {decided.length > 0 && (
        <Typography>
          <b style={{ color: ink.watch }}>Not like with like:</b>{" "}
          {decided.map((difference) => difference.says).join(" ")}
        </Typography>
      )}
      {comparison.ranked
        .filter((row) => row.penalty)
        .map((row) => (
          <Box key={row.design} sx={{ display: "flex", gap: 1, alignItems: "center" }}>
            <TeamMark team={row.team} size={16} />
            <Typography>
              <b>{row.team.name}</b>: {row.words}. {row.penalty}
            </Typography>
          </Box>
        ))}
      {comparison.voids.map((trial) => (
        <Box key={trial.trial} sx={{ display: "flex", gap: 1, alignItems: "center" }}>
          <TeamMark team={trial.team} size={16} />
          <Typography>
            <b>{trial.team.name}</b>,{" "}
            <Link
              component={RouterLink}
              to={trialAddress(state.run.id, trial.design, trial.trial)}
              sx={{ color: "inherit" }}
            >
              trial {trial.number}
            </Link>
            : void, not scored ({trial.reason.toLowerCase()} at {formatMass(trial.load_on_kg, units)}).
          </Typography>
        </Box>
      ))}
      {comparison.unranked.map((design) => (
        <Box key={design.design} sx={{ display: "flex", gap: 1, alignItems: "center" }}>
          <TeamMark team={design.team} size={16} />
          <Typography>
            <Link
              component={RouterLink}
              to={`/runs/${state.run.id}/bench/${design.design}`}
              sx={{ color: "inherit", fontWeight: 700 }}
            >
              {design.team.name}
            </Link>
            : {design.sentence}
          </Typography>
        </Box>
      ))}
    </Box>
  );
}

export function Ranking({ comparison }: { comparison: DrawnComparison }) {
  const { state, family } = useRunState();
  const { ranking, rays } = comparison;
  const empty = comparison.ranked.length === 0;
  const whyOf = (asked: string) => {
    const [figure = "", of = ""] = asked.split(":");
    return whyOfRun(state.run.id, figure, of, {
      school: comparison.school,
      trial_rule: comparison.trial_rule,
    });
  };
  return (
    <>
      {empty ? (
        <Empty title={family.loaded ? "No test has come to its end yet." : "No result is written down yet."}>
          <Button
            component={RouterLink}
            to={`/runs/${state.run.id}/bench`}
            variant="contained"
            sx={{ mt: 1 }}
          >
            To the bench
          </Button>
        </Empty>
      ) : (
        <Box
          sx={{ display: "grid", gridTemplateColumns: { md: rays ? "1.35fr 1fr" : "1fr" }, gap: 3, mt: 1 }}
        >
          <DrawnChart chart={ranking} whyOf={whyOf} />
          {rays && <DrawnChart chart={rays} />}
        </Box>
      )}
      <BelowTheRanking comparison={comparison} />
      <TrialLinks />
      <AlsoMeasured />
      {!empty && <Figures head={ranking.head} rows={ranking.rows} />}
    </>
  );
}
