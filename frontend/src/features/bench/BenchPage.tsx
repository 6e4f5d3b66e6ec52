/** The bench: the order of teams on top, below it the trial under way, or what comes before and after one. */
import { Box, Button, Typography } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { useNavigate, useParams } from "react-router";
import { answered, api } from "../../api/client";
import { keys, showAnswer, usePart } from "../../api/queries";
import { Empty } from "../../shared/states";
import type { Design, RunState } from "../../api/types";
import { TableReading } from "../instruments";
import { useRunState } from "../run";
import { useAhead } from "./beginning";
import { KeptElsewhere } from "./KeptElsewhere";
import { LessonClock } from "./LessonClock";
import { MeasuredResults } from "./MeasuredResults";
import { QueueStrip } from "./QueueStrip";
import { StartTrial } from "./StartTrial";
import { TrialBench } from "./TrialBench";

/** The designs in the order at the bench. */
function queued(state: RunState): Design[] {
  const place = new Map(state.queue.map((id, i) => [id, i]));
  return [...state.designs].sort((a, b) => (place.get(a.id) ?? 0) - (place.get(b.id) ?? 0));
}

/** A test that is on, and not at a team's own station: those are looked at all together. */
const isHere = (trial: Design["trials"][number]): boolean =>
  trial.result.outcome === "running" && !trial.by_team;

export default function BenchPage() {
  const { state, family } = useRunState();
  const params = useParams();
  const asked = Number(params["designId"]);
  const opened = params["trialId"];
  const go = useNavigate();
  const client = useQueryClient();
  // A trial that has just ended stays on screen until one goes on.
  const [showing, setShowing] = useState<{ design: number; trial: string } | null>(null);
  // One that was gone on from is not shown again while the run still says that it is under way.
  const [left, setLeft] = useState<string | null>(null);
  const [rehearsing, setRehearsing] = useState<string | null>(null);
  const [onPaper, setOnPaper] = useState(false);
  // Where the keys go when a trial begins, or one goes on from it: to the bench, and to no button that was pressed.
  const place = useRef<HTMLDivElement>(null);
  const order = useMutation({
    mutationFn: (ids: number[]) =>
      answered(
        api.PUT("/api/runs/{id}/queue", {
          params: { path: { id: state.run.id } },
          body: { order: ids, fair: false },
        }),
      ),
    onMutate: (ids) =>
      client.setQueryData<RunState>(keys.run(state.run.id), (old) => old && { ...old, queue: ids }),
    onSuccess: (fresh) => showAnswer(client, keys.run(state.run.id), fresh),
    onError: () => void client.invalidateQueries({ queryKey: keys.run(state.run.id) }),
  });
  const part = usePart(state.run.class_id);
  const ahead = useAhead(state);
  const designs = queued(state);
  const design =
    designs.find((design) => design.id === asked) ??
    designs.find((design) => design.id === showing?.design) ??
    designs.find((design) => design.trials.some((trial) => isHere(trial))) ??
    designs.find((design) => design.state === "checked_in") ??
    designs.find((design) => design.checked_in) ??
    designs[0];
  if (!design) return <Empty title="No team in this run." />;
  const pick = (id: number) => {
    setShowing(null);
    setRehearsing(null);
    void go(`/runs/${state.run.id}/bench/${id}`);
  };
  const running = design.trials.filter((trial) => trial.result.outcome === "running");
  const goOn = (id: number) => {
    place.current?.focus();
    pick(id);
  };
  const open = running.find((trial) => trial.id !== left);
  if (left !== null && !running.some((trial) => trial.id === left)) setLeft(null);
  const trialId =
    rehearsing ?? opened ?? open?.id ?? (showing?.design === design.id ? showing.trial : undefined);
  if (open && showing?.trial !== open.id) setShowing({ design: design.id, trial: open.id });
  const index = designs.indexOf(design);
  const next = [...designs.slice(index + 1), ...designs.slice(0, index)].find(
    (waiting) => waiting.state === "checked_in" || waiting.state === "void" || waiting.state === "on_bench",
  );
  if (part === "observer")
    return (
      <Empty title="The bench is for those who test.">
        <Typography>
          You look on in this class: the board follows the bench, and every trial is under Trials.
        </Typography>
      </Empty>
    );
  if (onPaper)
    return (
      <>
        <Button sx={{ mt: 2, px: 0 }} onClick={() => setOnPaper(false)}>
          Back to the bench
        </Button>
        <MeasuredResults />
      </>
    );
  return (
    <Box ref={place} tabIndex={-1} sx={{ pt: 0.5, outline: "none" }}>
      <QueueStrip designs={designs} current={design.id} onPick={pick} onOrder={(ids) => order.mutate(ids)} />
      <KeptElsewhere current={trialId} />
      {trialId ? (
        <TrialBench
          key={trialId}
          design={design}
          trialId={trialId}
          onLeave={rehearsing ? () => setRehearsing(null) : null}
          onEnded={() => {
            if (rehearsing) return setRehearsing(null);
            setLeft(trialId);
            goOn(design.id);
          }}
        />
      ) : (
        <>
          <LessonClock />
          {!designs.some((design) => design.checked_in) && (
            <Typography sx={{ fontWeight: 600, pt: 1 }}>
              Nobody is checked in yet. A rehearsal needs no check-in: it tests a made-up structure.
            </Typography>
          )}
          <StartTrial
            key={design.id}
            design={design}
            ahead={ahead.get(design.id)}
            next={next}
            onPick={goOn}
            onRehearse={setRehearsing}
            onBegun={() => place.current?.focus()}
          />
          {state.round_plan?.planned.some((round) => round.frequency_hz > 0) && (
            <TableReading levels={state.round_plan.planned} />
          )}
          {family.result_readings.length > 0 && (
            <Button sx={{ px: 0, mt: 2 }} onClick={() => setOnPaper(true)}>
              Tested elsewhere, written on paper? Type what was found
            </Button>
          )}
        </>
      )}
    </Box>
  );
}
