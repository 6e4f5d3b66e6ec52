/** The trial under way: one big figure, the drawing that grows, the wait, and the keys. Worked with one hand. */
import { Box, Button, Typography } from "@mui/material";
import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useLayoutEffect, useRef, useState } from "react";
import { keys } from "../../api/queries";
import type { Design, Step } from "../../api/types";
import {
  formatLength,
  formatMass,
  formatMassWithDoubt,
  formatPercent,
  formatRatio,
  massFigure,
} from "../../app/format";
import { Failed, Loading, Notice } from "../../app/states";
import { condensed, ink } from "../../app/theme";
import { useUnits } from "../../app/units";
import { BridgeElevation } from "../../drawing/BridgeElevation";
import { layersOf } from "../../drawing/bridgeGeometry";
import { LoadRule, type RuleMark } from "../../drawing/LoadRule";
import { useRunState } from "../run/useRunState";
import { ChoicePanel } from "./ChoicePanel";
import { HoldBox } from "./HoldBox";
import { useKeys } from "./keyboard";
import { KeyButton } from "./KeyButton";
import { useTrial, type BenchTrial } from "./useTrial";
import { ValuePanel } from "./ValuePanel";

type Panel = "watch" | "went" | "ran_out" | "void" | "take_off" | "sag" | "pile" | null;

interface Choice {
  item: string;
  count: number;
  label: string;
  kg: number;
  left: number;
}

function SavingWords({ bench }: { bench: BenchTrial }) {
  const waiting = bench.pending.length;
  const words = {
    saved: "saved",
    sending: "saving",
    offline: `waiting for the network, ${waiting} ${waiting === 1 ? "entry" : "entries"} kept here`,
    busy: "at another bench",
  }[bench.saving];
  const colour = bench.saving === "saved" || bench.saving === "sending" ? ink.held : ink.watch;
  return (
    <Typography
      role="status"
      data-saving={bench.saving}
      sx={{ fontWeight: 600, color: colour, whiteSpace: "nowrap" }}
    >
      <span aria-hidden="true">{bench.saving === "saved" ? "●" : "◐"}</span> {words}
    </Typography>
  );
}

interface StepStripProps {
  steps: readonly Step[];
  name: (item: string, count: number) => string;
  signs: ReadonlyMap<string, string>;
}

const STEP_WORD = {
  waiting: "waiting",
  held: "held",
  broke: "broke it",
  not_counted: "not counted",
} as const;
const STEP_COLOUR = { waiting: ink.watch, held: ink.held, broke: ink.broke, not_counted: ink.soft } as const;

/** The steps so far on one line, scrolled to the latest. */
function StepStrip({ steps, name, signs }: StepStripProps) {
  const scroller = useRef<HTMLDivElement>(null);
  useLayoutEffect(() => {
    if (scroller.current) scroller.current.scrollLeft = scroller.current.scrollWidth;
  }, [steps.length]);
  return (
    <Box
      ref={scroller}
      role="region"
      aria-label="Steps"
      tabIndex={0}
      sx={{
        flex: 1,
        minWidth: 0,
        overflowX: "auto",
        scrollbarWidth: "none",
        maskImage: "linear-gradient(to right, transparent, black 28px)",
      }}
    >
      <Box
        component="ol"
        sx={{ display: "flex", gap: 2.5, listStyle: "none", m: 0, p: 0, pl: "28px", minHeight: 24 }}
      >
        {steps.map((step) => (
          <Box component="li" key={step.event_id} sx={{ whiteSpace: "nowrap" }}>
            <b>
              {step.kind === "remove" && "off: "}
              {name(step.item, step.count)}
            </b>{" "}
            <span style={{ color: STEP_COLOUR[step.state] }}>
              {step.signs.map((sign) => `${(signs.get(sign) ?? sign).toLowerCase()}, `)}
              {step.kind === "remove" ? "" : STEP_WORD[step.state]}
            </span>
          </Box>
        ))}
      </Box>
    </Box>
  );
}

/** The width of an element, followed as it changes; the element may come later than the hook. */
function useWidth(): [(element: HTMLDivElement | null) => void, number] {
  const [element, setElement] = useState<HTMLDivElement | null>(null);
  const [width, setWidth] = useState(700);
  useLayoutEffect(() => {
    if (!element) return undefined;
    const observer = new ResizeObserver(([entry]) => {
      if (entry) setWidth(Math.max(320, Math.floor(entry.contentRect.width)));
    });
    observer.observe(element);
    return () => observer.disconnect();
  }, [element]);
  return [setElement, width];
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
  const { run, best_held } = runState;
  const units = useUnits();
  const bench = useTrial(trialId, run.id, run.kit);
  const [panel, setPanel] = useState<Panel>(null);
  const [overFor, setOverFor] = useState<string | null>(null);
  const [ruleRef, ruleWidth] = useWidth();
  const { state, shown, act } = bench;
  const client = useQueryClient();
  const [leaving, setLeaving] = useState(false);
  const left = useRef(false);
  const allSaved = bench.pending.length === 0;
  useEffect(() => {
    // The page that follows tells the result, so it waits until the end is saved and the run says so.
    if (!leaving || !allSaved || left.current) return;
    left.current = true;
    void client.invalidateQueries({ queryKey: keys.run(run.id) }).then(onEnded);
  }, [allSaved, client, leaving, onEnded, run.id]);
  const goOn = () => setLeaving(true);

  const waitingStep = shown?.steps.filter((step) => step.state === "waiting").at(-1)?.event_id ?? null;
  const holdS = run.setup["hold_s"] ?? 5;
  const waitOver = waitingStep !== null && overFor === waitingStep;
  const onOver = useCallback(() => setOverFor(waitingStep), [waitingStep]);

  const nameOf = (key: string, count: number): string => {
    const item = run.kit.find((one) => one.key === key);
    if (!item) return key;
    return item.shape === "platform" ? item.name : count === 1 ? `1 ${item.name}` : `${count} × ${item.name}`;
  };

  const busy = bench.saving === "busy";
  const ended = shown !== undefined && shown.outcome !== "running";
  const canAct = shown !== undefined && !ended && !busy;
  const planned = bench.pending.length === 0 ? state?.plan.steps[0] : undefined;
  const placedAny = shown !== undefined && Object.values(shown.placed).some((count) => count > 0);
  const hasPlatform = run.kit.some((item) => item.key === "platform");
  const needsPlatform = hasPlatform && !shown?.placed["platform"];
  const choices: Choice[] = run.kit
    .filter((item) => item.key !== "platform")
    .flatMap((item) => {
      const left = item.count - (shown?.placed[item.key] ?? 0);
      const one = { item: item.key, left, kg: item.mass_kg };
      const single = { ...one, count: 1, label: item.name };
      return item.roll_of > 1
        ? [single]
        : [single, { ...one, count: 5, kg: 5 * item.mass_kg, label: `5 × ${item.name}` }];
    });

  const place = (item: string, count: number) => {
    if (canAct) act("place", { item, count });
  };
  const settle = () => {
    if (canAct && waitOver) act("settle", { waited_s: holdS });
  };
  const placePlanned = () => {
    if (planned) place(planned.item, planned.count);
  };
  const undo = () => {
    if (!busy && shown?.undoable && !bench.undoWaits) act("undo", { event: shown.undoable });
  };
  const choose = (kind: Panel) => {
    if (canAct) setPanel(kind);
  };
  const finish = (kind: "fail" | "run_out" | "void", data: Record<string, string>) => {
    act(kind, data);
    setPanel(null);
  };
  useKeys(
    {
      enter: shown?.step_waiting ? settle : placePlanned,
      h: settle,
      w: () => choose("watch"),
      x: () => choose("went"),
      r: () => choose("ran_out"),
      v: () => choose("void"),
      t: () => choose("take_off"),
      s: () => choose("sag"),
      z: undo,
      ...(ended ? { n: goOn, p: () => setPanel("pile") } : {}),
      ...Object.fromEntries(
        choices.map((choice, i) => [
          String(i + 1),
          () => {
            if (choice.left >= choice.count && !needsPlatform) place(choice.item, choice.count);
          },
        ]),
      ),
    },
    panel === null,
  );

  if (bench.trial.isPending) return <Loading what="the trial" />;
  if (!state || !shown) return <Failed error={bench.trial.error} retry={() => void bench.trial.refetch()} />;

  const value = (key: string) => design.readings.find((one) => one.key === key)?.value_si;
  const gap = value("gap") ?? run.setup["gap_m"] ?? 0.3;
  const figure = massFigure(shown.held_kg, units);
  const ratio = state.self_mass && shown.held_kg > 0 ? shown.held_kg / state.self_mass.value : null;
  const target = run.setup["target_kg"];
  const unitKg = units === "us" ? 0.45359237 : 1;
  const marks: RuleMark[] = [
    ...(target ? [{ label: `target ${formatMass(target, units)}`, kg: target }] : []),
    ...(state.prediction_kg
      ? [{ label: `team says ${formatMass(state.prediction_kg, units)}`, kg: state.prediction_kg }]
      : []),
    ...(best_held
      ? [
          {
            label: `best so far ${best_held.at_least ? "at least " : ""}${formatMass(best_held.held_kg, units)}`,
            kg: best_held.held_kg,
          },
        ]
      : []),
  ];
  const signs = new Map(family.observations.map((mode) => [mode.key, mode.label]));
  const how = [...family.failure_modes, ...family.run_out_reasons, ...family.loading_errors].find(
    (mode) => mode.key === (shown.mode ?? shown.reason),
  );
  const lastUndo = shown.steps.at(-1);
  const warnings = state.plan.warnings.join(" ");
  const outcomeWord = {
    running: shown.step_waiting ? "Held before this step" : placedAny ? "Held" : "Nothing on it yet",
    broke: "Broke. It held",
    ran_out: "Ran out of load. It held at least",
    void: "Void, not scored. It had held",
  }[shown.outcome];

  return (
    <Box
      sx={{
        display: "flex",
        flexDirection: "column",
        gap: 1,
        height: { md: "calc(100vh - 172px)" },
        minHeight: { md: 590 },
      }}
    >
      <Box
        sx={{
          display: "grid",
          gridTemplateColumns: { md: "minmax(560px, 1.15fr) 1fr" },
          gap: 2,
          flex: 1,
          minHeight: 0,
        }}
      >
        <Box sx={{ minHeight: 0, display: "flex", flexDirection: "column" }}>
          <Typography sx={{ fontSize: "1.35rem", pt: 1 }}>
            {design.team.name}
            {design.version > 1 && `, version ${design.version}`}, trial {state.number}. <b>{outcomeWord}</b>
            {how && ended && `. ${how.label}`}
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
              {figure.value}{" "}
              <Box component="span" sx={{ fontSize: "0.36em", ml: "-0.25em" }}>
                {figure.unit}
              </Box>
            </Box>
          </Box>
          <Box sx={{ display: "flex", alignItems: "center", gap: 3, minHeight: 62 }}>
            {waitingStep !== null && !ended && <HoldBox key={waitingStep} holdS={holdS} onOver={onOver} />}
            {ratio !== null && (
              <Box>
                <Box
                  component="span"
                  data-figure="ratio"
                  sx={{ fontFamily: condensed, fontWeight: 700, fontSize: "2.9rem", lineHeight: 1 }}
                >
                  {formatRatio(ratio)} ×
                </Box>{" "}
                <Box component="span" sx={{ fontSize: "1.2rem" }}>
                  its own weight
                </Box>
              </Box>
            )}
            {ratio === null && !state.self_mass && (
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
            {state.self_mass &&
              `Own weight ${formatMassWithDoubt(state.self_mass.value, state.self_mass.standard_uncertainty, units)}. `}
            {shown.step_waiting && `On it now ${formatMass(shown.load_on_kg, units)}. `}
            {state.estimate &&
              `Expected ${formatMass(state.estimate.low_kg, units)} to ${formatMass(state.estimate.high_kg, units)}, from ${state.estimate.basis}.`}
          </Typography>
        </Box>
        <Box sx={{ minHeight: 220, height: "100%" }}>
          <BridgeElevation
            gapM={gap}
            overlapLeftM={value("overlap_left") ?? 0.03}
            overlapRightM={value("overlap_right") ?? 0.03}
            stack={layersOf(shown.steps, run.kit)}
            gapLabel={formatLength(gap, units)}
            broken={shown.outcome === "broke"}
          />
        </Box>
      </Box>

      {(bench.refused !== null || busy || (!ended && (state.caution !== null || warnings !== ""))) && (
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
                mt: 0.75,
                fontWeight: 600,
              }}
            >
              <span aria-hidden="true" style={{ color: ink.watch }}>
                ▲
              </span>
              {state.caution}
            </Box>
          )}
          {bench.refused && <Notice kind="problem">{bench.refused}</Notice>}
          {busy && (
            <Notice kind="caution">
              This trial is open at another bench. Follow it there, or{" "}
              <Button size="small" variant="outlined" onClick={() => void bench.takeOver()}>
                take it over here
              </Button>
            </Notice>
          )}
          {warnings !== "" && !ended && (
            <Typography sx={{ color: ink.watch, flex: 1 }}>{warnings}</Typography>
          )}
        </Box>
      )}

      <Box ref={ruleRef} sx={{ overflow: "hidden" }}>
        <LoadRule
          heldKg={shown.held_kg}
          onKg={shown.load_on_kg}
          marks={marks}
          expected={state.estimate ? { low: state.estimate.low_kg, high: state.estimate.high_kg } : null}
          unitKg={unitKg}
          symbol={units === "us" ? "lb" : "kg"}
          width={ruleWidth}
        />
      </Box>

      <Box
        sx={{ display: "flex", gap: 3, alignItems: "center", borderTop: `1px solid ${ink.line}`, pt: 0.5 }}
      >
        <StepStrip steps={shown.steps} name={nameOf} signs={signs} />
        <SavingWords bench={bench} />
      </Box>

      {ended ? (
        <Box sx={{ display: "flex", gap: 1.25 }}>
          <KeyButton
            look="place"
            letter="N"
            title="Go on"
            note={leaving && !allSaved ? "once it is saved" : "the result, and the next team"}
            onPress={goOn}
            grow={2}
          />
          {shown.outcome !== "void" && (
            <KeyButton
              look="watch"
              letter="P"
              title="Weigh the pile"
              note="instead of the count"
              onPress={() => setPanel("pile")}
              disabled={busy}
            />
          )}
          <KeyButton
            look="plain"
            letter="Z"
            title="Undo the end"
            note="it had not ended"
            onPress={undo}
            disabled={busy || bench.undoWaits}
          />
        </Box>
      ) : (
        <>
          <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap" }}>
            {choices.map((choice, i) => (
              <KeyButton
                key={`${choice.item} ${choice.count}`}
                small
                look="plain"
                letter={String(i + 1)}
                title={choice.label}
                note={`${formatMass(choice.kg, units)}, ${choice.left} left`}
                disabled={!canAct || needsPlatform || choice.left < choice.count}
                onPress={() => place(choice.item, choice.count)}
                grow={1.5}
              />
            ))}
            <KeyButton
              small
              look="plain"
              letter="T"
              title="Take off"
              disabled={!canAct || !placedAny}
              onPress={() => choose("take_off")}
            />
            <KeyButton
              small
              look="plain"
              letter="S"
              title="Sag"
              disabled={!canAct || !placedAny}
              onPress={() => choose("sag")}
              grow={0.7}
            />
            <KeyButton
              small
              look="plain"
              letter="R"
              title="Ran out"
              disabled={!canAct || shown.step_waiting || shown.held_kg <= 0}
              onPress={() => choose("ran_out")}
              grow={0.9}
            />
            <KeyButton
              small
              look="plain"
              letter="V"
              title="Void"
              disabled={!canAct}
              onPress={() => choose("void")}
              grow={0.7}
            />
          </Box>
          <Box sx={{ display: "flex", gap: 1.25 }}>
            <KeyButton
              look="place"
              letter={shown.step_waiting ? "" : "↵"}
              title={
                planned
                  ? `Place ${nameOf(planned.item, planned.count)}`
                  : bench.pending.length > 0
                    ? "…"
                    : "Nothing left to place"
              }
              note={
                planned
                  ? `then ${formatMass(shown.load_on_kg + planned.mass_kg, units)}${shown.held_kg > 0 ? `, step ${formatPercent(planned.mass_kg / (shown.load_on_kg + planned.mass_kg))}` : ""}`
                  : bench.pending.length > 0
                    ? "planning the next step"
                    : "ran out, or choose below"
              }
              disabled={!canAct || !planned || shown.step_waiting}
              onPress={placePlanned}
              grow={2.3}
            />
            <KeyButton
              look="held"
              letter={shown.step_waiting ? "↵" : "H"}
              title="It held"
              note={shown.step_waiting && !waitOver ? `after ${holdS} s` : "H, or Enter"}
              disabled={!canAct || !waitOver}
              onPress={settle}
              grow={1.4}
            />
            <KeyButton
              look="watch"
              letter="W"
              title="Watch"
              note="note a sign"
              disabled={!canAct}
              onPress={() => choose("watch")}
              grow={1.1}
            />
            <KeyButton
              look="went"
              letter="X"
              title="It went"
              note="say how"
              disabled={!canAct || !placedAny}
              onPress={() => choose("went")}
              grow={1.1}
            />
            <KeyButton
              look="plain"
              letter="Z"
              title="Undo"
              note={lastUndo ? nameOf(lastUndo.item, lastUndo.count) : ""}
              disabled={busy || !shown.undoable || bench.undoWaits}
              onPress={undo}
            />
          </Box>
        </>
      )}

      {panel === "watch" && (
        <ChoicePanel
          title="What do you see?"
          choices={family.observations}
          onClose={() => setPanel(null)}
          onChoose={(sign) => {
            act("observe", { sign });
            setPanel(null);
          }}
        />
      )}
      {panel === "went" && (
        <ChoicePanel
          title="How did it go?"
          note="The step that broke it does not count as held."
          choices={family.failure_modes}
          onClose={() => setPanel(null)}
          onChoose={(mode) => finish("fail", { mode })}
        />
      )}
      {panel === "ran_out" && (
        <ChoicePanel
          title="It still stands. Why stop?"
          note="The result counts as “at least” this much."
          choices={family.run_out_reasons}
          onClose={() => setPanel(null)}
          onChoose={(reason) => finish("run_out", { reason })}
        />
      )}
      {panel === "void" && (
        <ChoicePanel
          title="What spoiled it?"
          note="A spoiled trial is listed, not scored, and can be tested again."
          choices={family.loading_errors}
          onClose={() => setPanel(null)}
          onChoose={(reason) => finish("void", { reason })}
        />
      )}
      {panel === "take_off" && (
        <ChoicePanel
          title="Take off one"
          choices={run.kit
            .filter((item) => (shown.placed[item.key] ?? 0) > 0)
            .map((item, i) => ({
              key: item.key,
              letter: String(i + 1),
              label: item.name,
              explanation: `${shown.placed[item.key] ?? 0} on the bridge`,
            }))}
          onClose={() => setPanel(null)}
          onChoose={(item) => {
            act("remove", { item, count: 1 });
            setPanel(null);
          }}
        />
      )}
      {panel === "sag" && (
        <ValuePanel
          title="Sag at midspan"
          note="How far the middle came down since nothing was on it."
          fields={[{ key: "sag", label: "Sag, with its unit", initial: "" }]}
          onClose={() => setPanel(null)}
          onSave={(texts) => {
            act("measure", { sag: texts["sag"] ?? "" });
            setPanel(null);
          }}
        />
      )}
      {panel === "pile" && (
        <ValuePanel
          title="The pile on the scale"
          note="Everything that was on the bridge at the end, platform included."
          fields={[
            { key: "mass", label: "Scale shows, with its unit", initial: "" },
            { key: "resolution", label: "Scale's step", initial: "1 g" },
          ]}
          onClose={() => setPanel(null)}
          onSave={(texts) => {
            act("pile_reading", { ...texts, covers: "all" });
            setPanel(null);
          }}
        />
      )}
    </Box>
  );
}
