/** The bench: the order of teams on top, below it the trial under way, or what comes before and after one. */
import { Box, Typography } from "@mui/material";
import { useState } from "react";
import { useNavigate, useParams } from "react-router";
import { Empty } from "../../app/states";
import { useRunState } from "../run/useRunState";
import { QueueStrip } from "./QueueStrip";
import { MeasuredResults } from "./MeasuredResults";
import { StartTrial } from "./StartTrial";
import { TrialBench } from "./TrialBench";

export default function BenchPage() {
  const { state, family } = useRunState();
  const asked = Number(useParams()["designId"]);
  const go = useNavigate();
  // A trial that has just ended stays on screen until one goes on.
  const [showing, setShowing] = useState<{ design: number; trial: string } | null>(null);
  const { designs } = state;
  const design =
    designs.find((one) => one.id === asked) ??
    designs.find((one) => one.id === showing?.design) ??
    designs.find((one) => one.state === "on_bench") ??
    designs.find((one) => one.state === "checked_in") ??
    designs.find((one) => one.checked_in) ??
    designs[0];
  if (!design) return <Empty title="No team in this run." />;
  if (!family.loaded) return <MeasuredResults />;
  if (!designs.some((one) => one.checked_in)) {
    return (
      <Empty title="Nobody is checked in yet.">
        <Typography>Check a team in first; then it can come to the bench.</Typography>
      </Empty>
    );
  }
  const pick = (id: number) => {
    setShowing(null);
    void go(`/runs/${state.run.id}/bench/${id}`);
  };
  const open = design.trials.find((trial) => trial.result.outcome === "running");
  const trialId = open?.id ?? (showing?.design === design.id ? showing.trial : undefined);
  if (open && showing?.trial !== open.id) setShowing({ design: design.id, trial: open.id });
  const index = designs.indexOf(design);
  const next = [...designs.slice(index + 1), ...designs.slice(0, index)].find(
    (one) => one.state === "checked_in" || one.state === "void" || one.state === "on_bench",
  );
  return (
    <Box sx={{ pt: 0.5 }}>
      <QueueStrip designs={designs} current={design.id} onPick={pick} />
      {trialId ? (
        <TrialBench key={trialId} design={design} trialId={trialId} onEnded={() => pick(design.id)} />
      ) : (
        <StartTrial key={design.id} design={design} next={next} onPick={pick} />
      )}
    </Box>
  );
}
