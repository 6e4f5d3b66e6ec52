/** The trial under way: one big figure, the drawing that grows, the wait, and the keys. Worked with one hand. */
import { OUNCE_KG, POUND_KG } from "../../shared/format";
import { Box, Button, Typography } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { keys } from "../../api/queries";
import type { Design, UnitSystem } from "../../api/types";
import { useKeys } from "../../shared/keyboard";
import { Failed, Loading, Notice, sentenceOf } from "../../shared/states";
import { condensed, ink } from "../../shared/theme";
import { useUnits } from "../../shared/units";
import { LoadRule, type RuleMark } from "../../drawing/LoadRule";
import { RoundRule } from "../../drawing/RoundRule";
import { useRunState } from "../run";
import { BenchKeys } from "./BenchKeys";
import { BenchPanels, type Panel } from "./BenchPanels";
import { HoldBox } from "./HoldBox";
import { stepWords } from "./kitWords";
import { heightWords } from "./roundWords";
import { PieceRow } from "./PieceRow";
import { RoundKeys } from "./RoundKeys";
import { SetAside } from "./SetAside";
import { trialWords } from "./trialWords";
import { TrialPicture } from "./TrialPicture";
import { RoundStrip, SavingWords, StepStrip } from "./TrialStrips";
import { useTrial } from "./useTrial";
import { useWidth } from "./useWidth";

/** When the present step or round began, and when its agreed wait was over; none while nothing waits. */
interface Wait {
  id: string;
  began: number;
  over: number | null;
}

/** Grams and ounces for light structures, kilograms and pounds for heavy ones. */
function ruleUnit(units: UnitSystem, onKg: number, marks: readonly RuleMark[]) {
  const light = Math.max(onKg, ...marks.map((mark) => mark.kg)) < 0.4;
  if (units === "us") return light ? { unitKg: OUNCE_KG, symbol: "oz" } : { unitKg: POUND_KG, symbol: "lb" };
  return light ? { unitKg: 0.001, symbol: "g" } : { unitKg: 1, symbol: "kg" };
}

export function TrialBench({
  design,
  trialId,
  onEnded,
}: {
  design: Design;
  trialId: string;
  onEnded: () => void;
}) {
  const { state: runState, family } = useRunState();
  const { run } = runState;
  const units = useUnits();
  const bench = useTrial(trialId, run.kit);
  const takeOver = useMutation({ mutationFn: bench.takeOver });
  const [panel, setPanel] = useState<Panel>(null);
  const [wait, setWait] = useState<Wait | null>(null);
  const [lastedS, setLastedS] = useState<number | null>(null);
  const [clock, setClock] = useState(false);
  const [seat, setSeat] = useState("mc");
  const [ruleRef, ruleWidth] = useWidth();
  const { state, shown, act } = bench;
  const client = useQueryClient();
  const [leaving, setLeaving] = useState(false);
  const left = useRef(false);
  const allSaved = bench.pending.length === 0;
  // An end that was not taken is none: nobody goes on from it.
  if (leaving && allSaved && state?.result.outcome === "running") setLeaving(false);
  useEffect(() => {
    // The page that follows tells the result, so it waits until the end is saved and the run says so.
    if (!leaving || !allSaved || left.current) return;
    left.current = true;
    void client.invalidateQueries({ queryKey: keys.run(run.id) }).then(onEnded);
  }, [allSaved, client, leaving, onEnded, run.id]);

  const plan = state?.round_plan ?? null;
  const waitingRound = shown?.round_waiting ? (shown.rounds.at(-1)?.event_id ?? null) : null;
  const waitingStep = shown?.steps.filter((step) => step.state === "waiting").at(-1)?.event_id ?? null;
  const waiting = waitingRound ?? waitingStep;
  const holdS = waitingRound !== null ? (plan?.hold_s ?? 0) : (run.setup["hold_s"] ?? 5);
  const current = wait !== null && wait.id === waiting ? wait : null;
  const onBegan = useCallback((id: string, began: number) => setWait({ id, began, over: null }), []);
  const onOver = useCallback(() => {
    setWait((old) => old && { ...old, over: performance.now() });
  }, []);

  // While it is fetched, Enter is the bench's all the same.
  useKeys(bench.trial.isPending ? { enter: null } : {});

  if (bench.trial.isPending) return <Loading what="the trial" />;
  if (!state || !shown) return <Failed error={bench.trial.error} retry={() => void bench.trial.refetch()} />;

  const busy = bench.saving === "busy";
  const ended = shown.outcome !== "running";
  const waitOver = waiting !== null && (holdS === 0 || (current?.over ?? null) !== null);
  // The record says how long it really stayed up, not what was agreed.
  const settle = () => {
    if (!waitOver) return;
    const past = current?.over ? (performance.now() - current.over) / 1000 : 0;
    act("settle", { waited_s: holdS + past });
  };
  const went = () => {
    setLastedS(waitingRound !== null && current ? (performance.now() - current.began) / 1000 : null);
    setPanel("went");
  };
  const words = trialWords(state, shown, runState, family, units);
  const told = family.bench.measures.some(
    (one) => one.needed && shown.taken.some((taken) => taken.key === one.key),
  );
  // A tower is measured first; then its top may be loaded.
  const loading = plan === null || (told && run.kit.length > 0 && family.bench.top_load);
  const way = family.bench.arrangements.find((one) => one.key === state.arrangement);
  const warnings = plan === null ? state.plan.warnings.join(" ") : "";
  const signs = new Map(family.observations.map((mode) => [mode.key, mode.label]));
  const common = {
    bench,
    shown,
    waitOver,
    onHeld: settle,
    leaving,
    onPanel: (asked: Panel) => (asked === "went" ? went() : setPanel(asked)),
    onGoOn: () => setLeaving(true),
  };

  return (
    <Box
      sx={{
        display: "flex",
        flexDirection: "column",
        gap: 1,
        height: { sm: "calc(100vh - 172px)" },
        minHeight: { sm: 590 },
      }}
    >
      {state.rehearsal && (
        <Box
          role="status"
          sx={{
            display: "flex",
            gap: 2,
            alignItems: "baseline",
            bgcolor: ink.watchPale,
            border: `3px dashed ${ink.watchFill}`,
            px: 1.5,
            py: 0.4,
          }}
        >
          <Typography sx={{ fontWeight: 700 }}>Rehearsal, never a result.</Typography>
          <Typography sx={{ fontSize: "1.25rem", fontWeight: state.rehearsal.broke ? 700 : 400 }}>
            {ended ? "Go on when you like." : state.rehearsal.says}
          </Typography>
        </Box>
      )}
      <Box
        sx={{
          display: "grid",
          gridTemplateColumns: { md: "minmax(560px, 1.15fr) 1fr" },
          gridTemplateRows: { sm: "minmax(280px, 2fr) minmax(0, 3fr)", md: "minmax(0, 1fr)" },
          gap: 2,
          flex: 1,
          minHeight: 0,
        }}
      >
        <Box sx={{ minHeight: 0, display: "flex", flexDirection: "column" }}>
          <Typography sx={{ fontSize: "1.35rem", pt: 1 }}>
            {design.team.name}
            {design.version > 1 && `, version ${design.version}`}, {state.rehearsal ? "rehearsal" : "trial"}{" "}
            {state.number}
            {way && `, ${way.label.toLowerCase()}`}. {words.how && `${words.how}. `}
            <b>{words.lead}</b>
          </Typography>
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
                color: shown.outcome === "broke" || shown.outcome === "void" ? ink.broke : ink.held,
              }}
            >
              {words.figure.value}{" "}
              <Box
                component="span"
                sx={{ fontSize: words.figure.unit.length > 3 ? "0.24em" : "0.36em", ml: "-0.25em" }}
              >
                {words.figure.unit}
              </Box>
            </Box>
          </Box>
          <Box sx={{ display: "flex", alignItems: "center", gap: 3, minHeight: 62 }}>
            {waiting !== null && !ended && holdS > 0 && (
              <HoldBox key={waiting} id={waiting} holdS={holdS} onBegan={onBegan} onOver={onOver} />
            )}
            {clock && plan?.attack_s && !ended && (
              <HoldBox key="attack" id="attack" holdS={plan.attack_s} over="Time! Hands down." />
            )}
            {words.second && (
              <Box>
                <Box
                  component="span"
                  data-figure="ratio"
                  sx={{ fontFamily: condensed, fontWeight: 700, fontSize: "2.9rem", lineHeight: 1 }}
                >
                  {words.second.figure}
                </Box>{" "}
                <Box component="span" sx={{ fontSize: "1.2rem" }}>
                  {words.second.says}
                </Box>
              </Box>
            )}
            {plan === null && !words.second && !state.self_mass && !run.young && (
              <Typography sx={{ color: ink.watch }}>
                Own weight not taken: no ratio yet. It can be weighed afterwards.
              </Typography>
            )}
          </Box>
          <Typography
            sx={{
              color: ink.soft,
              mt: 0.5,
              whiteSpace: "nowrap",
              overflow: "hidden",
              textOverflow: "ellipsis",
            }}
          >
            {words.foot}
          </Typography>
        </Box>
        <Box sx={{ minHeight: 0, height: { xs: 300, sm: "100%" } }}>
          <TrialPicture design={design} shown={shown} cargo={state.cargo} seat={seat} onSeat={setSeat} />
        </Box>
      </Box>

      {(bench.aside.length > 0 ||
        bench.trouble !== "" ||
        !bench.keeps ||
        busy ||
        state.pile !== null ||
        (!ended && (state.caution !== null || warnings !== ""))) && (
        <Box
          sx={{
            display: "flex",
            flexWrap: "wrap",
            gap: 1.5,
            alignItems: "center",
            "& > *": { my: "0 !important" },
          }}
        >
          {state.caution && !ended && (
            <Box
              role="alert"
              sx={{
                display: "inline-flex",
                gap: 1,
                border: `3px solid ${ink.watchFill}`,
                bgcolor: ink.sheet,
                px: 1.5,
                py: 0.5,
                fontWeight: 600,
              }}
            >
              <span aria-hidden="true" style={{ color: ink.watch }}>
                ▲
              </span>
              {state.caution}
            </Box>
          )}
          {state.pile && <Notice kind={state.pile.agrees ? "done" : "caution"}>{state.pile.sentence}</Notice>}
          <SetAside bench={bench} />
          {busy && (
            <Notice kind="caution">
              This trial is open at another bench. Follow it there, or{" "}
              <Button
                size="small"
                variant="outlined"
                disabled={takeOver.isPending}
                onClick={() => takeOver.mutate()}
              >
                take it over here
              </Button>
              {takeOver.isError && <> {sentenceOf(takeOver.error)}</>}
            </Notice>
          )}
          {warnings !== "" && !ended && (
            <Typography sx={{ color: ink.watch, flex: "1 1 20rem" }}>{warnings}</Typography>
          )}
        </Box>
      )}

      <Box ref={ruleRef} sx={{ overflow: "hidden" }}>
        {plan !== null && !loading ? (
          <RoundRule
            plan={plan}
            shown={shown}
            width={ruleWidth}
            label={(size) =>
              plan.control === "drop"
                ? heightWords(size, units)
                : plan.control === "stand"
                  ? `${size} s`
                  : String(size)
            }
          />
        ) : run.young ? (
          <PieceRow kit={run.kit} shown={shown} />
        ) : (
          <LoadRule
            heldKg={shown.held_kg}
            onKg={shown.load_on_kg}
            marks={words.marks}
            expected={state.estimate ? { low: state.estimate.low_kg, high: state.estimate.high_kg } : null}
            {...ruleUnit(units, shown.load_on_kg, words.marks)}
            width={ruleWidth}
          />
        )}
      </Box>

      <Box
        sx={{ display: "flex", gap: 3, alignItems: "center", borderTop: `1px solid ${ink.line}`, pt: 0.5 }}
      >
        {loading ? (
          <StepStrip steps={shown.steps} name={(step) => stepWords(run.kit, step, units)} signs={signs} />
        ) : (
          <RoundStrip shown={shown} measures={family.bench.measures} units={units} />
        )}
        <SavingWords bench={bench} />
      </Box>

      {loading ? (
        <BenchKeys {...common} holdS={holdS} seat={seat} />
      ) : (
        <RoundKeys {...common} onWent={went} clockOn={clock} onClock={() => setClock(true)} />
      )}
      <BenchPanels
        panel={panel}
        shown={shown}
        act={act}
        lastedS={lastedS}
        seat={seat}
        onPanel={common.onPanel}
      />
    </Box>
  );
}
