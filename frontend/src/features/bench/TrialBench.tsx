/** The trial under way: one big figure, the drawing that grows, the wait, and the keys. Worked with one hand. */
import { Box } from "@mui/material";
import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { keys } from "../../api/queries";
import type { Design } from "../../api/types";
import { useKeys } from "../../shared/keyboard";
import { underWay } from "../../shared/newVersion";
import { play } from "../../shared/sound";
import { Failed, Loading } from "../../shared/states";
import { useUnits } from "../../shared/units";
import type { Eye } from "../photo";
import { useRunState } from "../run";
import { BenchKeys } from "./BenchKeys";
import { BenchPanels, type Panel } from "./BenchPanels";
import { factsOf } from "./facts";
import { TrialFoot } from "./TrialFoot";
import { TrialHead } from "./TrialHead";
import { RehearsalLine, TrialNotices } from "./TrialNotices";
import { trialWords } from "./trialWords";
import { TrialPicture } from "./TrialPicture";
import { useTrial } from "./useTrial";
import { useWait } from "./useWait";
import { WatchLine } from "./WatchLine";

interface Props {
  design: Design;
  trialId: string;
  /** Ends a rehearsal, wherever it stands; null in a trial. */
  onLeave: (() => void) | null;
  onEnded: () => void;
}

export function TrialBench({ design, trialId, onLeave, onEnded }: Props) {
  const { state: runState, family, atStation } = useRunState();
  const { run } = runState;
  const units = useUnits();
  const bench = useTrial(trialId, run.kit);
  const [panel, setPanel] = useState<Panel>(null);
  const [lastedS, setLastedS] = useState<number | null>(null);
  const [clockOn, setClockOn] = useState(false);
  const [seat, setSeat] = useState("mc");
  const [watched, setWatched] = useState<{ measure: string; eye: Eye } | null>(null);
  const { state, shown, act } = bench;
  const wait = useWait(state, shown);
  const client = useQueryClient();
  const [leaving, setLeaving] = useState(false);
  const left = useRef(false);
  const allSaved = bench.pending.length === 0 && bench.beginning === null;
  // Nobody waits for a network: the next team comes on, and what came of this one is told when the server has it.
  const goesOn = allSaved || bench.saving === "offline";
  // An end that was not taken is none: nobody goes on from it.
  if (leaving && allSaved && state?.result.outcome === "running") setLeaving(false);
  useEffect(() => {
    // The page that follows tells the result, so it waits until the end is saved and the run says so.
    if (!leaving || !goesOn || left.current) return;
    left.current = true;
    const queryKey = atStation ? keys.team : keys.run(run.id);
    const told = allSaved ? client.invalidateQueries({ queryKey }) : Promise.resolve();
    void told.then(onEnded);
  }, [allSaved, atStation, client, goesOn, leaving, onEnded, run.id]);

  // No newer version of the interface interrupts a test.
  const running = shown?.outcome === "running";
  useEffect(() => (running ? underWay() : undefined), [running]);

  // While it is fetched, Enter is the bench's all the same.
  useKeys(bench.trial.isPending ? { enter: null } : {});

  if (bench.trial.isPending) return <Loading what="the trial" />;
  if (!state || !shown) return <Failed error={bench.trial.error} retry={() => void bench.trial.refetch()} />;

  const ended = shown.outcome !== "running";
  const judged = { kit: run.kit, plan: state.round_plan, needsAll: family.bench.needs_all };
  const facts = new Set<string>(factsOf(shown, judged, bench.pending));
  const words = trialWords(state, shown, runState, family, units);
  const onPanel = (asked: Panel) => {
    if (asked === "went") setLastedS(wait.lasted());
    setPanel(asked);
  };
  return (
    <Box
      sx={{
        display: "flex",
        flexDirection: "column",
        gap: 1,
        height: { sm: "calc(100vh - 230px)", md: "calc(100vh - 172px)" },
        minHeight: { sm: 470 },
      }}
    >
      <RehearsalLine state={state} ended={ended} onLeave={onLeave} />
      <Box
        sx={{
          display: "grid",
          gridTemplateColumns: { xs: "minmax(0, 1fr)", md: "minmax(560px, 1.15fr) 1fr" },
          gridTemplateRows: { sm: "minmax(280px, 2fr) minmax(0, 3fr)", md: "minmax(0, 1fr)" },
          gap: 2,
          flex: 1,
          minHeight: 0,
        }}
      >
        <TrialHead design={design} state={state} shown={shown} words={words} wait={wait} clockOn={clockOn} />
        <Box sx={{ minHeight: 0, height: { xs: 140, sm: "100%" } }}>
          <TrialPicture design={design} shown={shown} cargo={state.cargo} seat={seat} onSeat={setSeat} />
        </Box>
      </Box>
      <TrialNotices
        bench={bench}
        state={state}
        ended={ended}
        onLeftOut={() => {
          client.removeQueries({ queryKey: keys.trial(trialId) });
          void client.invalidateQueries({ queryKey: keys.run(run.id) });
          onEnded();
        }}
      />
      <WatchLine
        watched={ended ? null : watched}
        trialId={trialId}
        loadKg={shown.load_on_kg}
        act={act}
        onStop={() => setWatched(null)}
      />
      <TrialFoot
        bench={bench}
        state={state}
        shown={shown}
        marks={words.marks}
        loading={facts.has("loading")}
      />
      <BenchKeys
        bench={bench}
        facts={facts}
        holdS={wait.holdS}
        waitOver={wait.isOver}
        leaving={leaving}
        seat={seat}
        clockOn={clockOn}
        onClock={() => setClockOn(true)}
        onPanel={onPanel}
        onHeld={() => {
          if (!wait.isOver) return;
          act("settle", { waited_s: wait.stayedUp() });
          // Whoever loads looks at the bridge, not at the screen.
          play("held");
        }}
        onGoOn={() => setLeaving(true)}
      />
      <BenchPanels
        panel={panel}
        shown={shown}
        act={act}
        lastedS={lastedS}
        seat={seat}
        design={design}
        waiting={bench.pending.length > 0}
        trialId={atStation || bench.beginning !== null ? "" : trialId}
        onPanel={onPanel}
        onWatch={(measure, eye) => setWatched({ measure, eye })}
      />
    </Box>
  );
}
