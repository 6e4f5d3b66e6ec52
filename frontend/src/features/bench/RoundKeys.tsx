/** The keys of a test in rounds: the next round, how it went, what is measured, and the end. */
import type { BenchMeasure, TrialResult } from "../../api/types";
import { useUnits } from "../../shared/units";
import { useRunState } from "../run";
import type { Panel } from "./BenchPanels";
import { goOnKey, KeyRows, undoKey } from "./KeyRows";
import type { KeySpec } from "./KeyButton";
import { roundNote, roundTitle, SURVIVED, WENT } from "./roundWords";
import type { BenchTrial } from "./useTrial";

interface Props {
  bench: BenchTrial;
  shown: TrialResult;
  waitOver: boolean;
  leaving: boolean;
  /** For an attack against the clock: whether its clock was started. */
  clockOn: boolean;
  onClock: () => void;
  onPanel: (panel: Panel) => void;
  onHeld: () => void;
  onWent: () => void;
  onGoOn: () => void;
}

/** A letter for each thing that is measured: S for a sag, else M, then Y. */
export function measureKeys(
  measures: readonly BenchMeasure[],
  onPanel: (panel: Panel) => void,
  disabled: boolean,
): KeySpec[] {
  return measures.map((one, i) => ({
    look: "plain",
    letter: one.key === "sag" ? "S" : (["M", "Y"][i] ?? ""),
    title: one.label.split(" ")[0] ?? one.label,
    onPress: () => onPanel(`measure:${one.key}`),
    disabled,
    small: true,
    grow: 0.8,
  }));
}

export function RoundKeys(props: Props) {
  const { bench, shown, waitOver, leaving, clockOn, onClock, onPanel, onHeld, onWent, onGoOn } = props;
  const { family } = useRunState();
  const units = useUnits();
  const { act, pending, state } = bench;
  const plan = state?.round_plan;
  if (!plan) return null;
  const busy = bench.saving === "busy";
  const ended = shown.outcome !== "running";
  const canAct = !ended && !busy;
  const throwing = plan.control === "throw";
  const last = shown.rounds.at(-1)?.size ?? 0;
  const next = plan.planned.find((one) => one.size > last + 1e-9);
  const taken = new Set(shown.taken.map((one) => one.key));
  for (const event of pending) if (event.kind === "measure") taken.add(String(event.data?.["key"]));
  const needed = family.bench.measures.filter((one) => one.needed);
  const told = needed.some((one) => taken.has(one.key));
  const allMade = throwing ? plan.attack_s !== null || next === undefined : next === undefined;
  const undo = undoKey(bench, shown.undoable);
  if (ended) {
    const rows: KeySpec[][] = [
      [
        goOnKey(leaving, pending.length, onGoOn),
        { ...undo, title: "Undo the end", note: "it had not ended" },
      ],
    ];
    return <KeyRows rows={rows} />;
  }

  const finish: KeySpec = {
    look: "place",
    letter: "↵",
    title: throwing ? "The attack is over" : "Done",
    note: throwing ? "both sides are scored" : "its height counts",
    onPress: () => act("finish"),
    disabled: !canAct,
    grow: 2.2,
  };
  const measureFirst = needed[0];
  const measure: KeySpec = {
    look: "place",
    letter: "↵",
    title: throwing ? "Count what is left" : `Measure: ${measureFirst?.label.toLowerCase() ?? ""}`,
    note: measureFirst?.how ?? "",
    onPress: () => measureFirst && onPanel(`measure:${measureFirst.key}`),
    disabled: !canAct || !shown.stood,
    grow: 2.2,
  };
  const round: KeySpec = {
    look: "place",
    letter: shown.round_waiting ? "" : "↵",
    title: next ? roundTitle(plan, next, units) : "All made",
    note: next ? roundNote(plan, next) : "say how it ended",
    onPress: () => act("round"),
    disabled: !canAct || shown.round_waiting || !next,
    grow: 2.2,
  };
  const survived: KeySpec = {
    look: "held",
    letter: shown.round_waiting ? "↵" : "H",
    also: "h",
    title: SURVIVED[plan.control],
    note: shown.round_waiting && !waitOver ? `after ${plan.hold_s} s` : "H, or Enter",
    onPress: onHeld,
    disabled: !canAct || !shown.round_waiting || !waitOver,
    grow: 1.5,
  };
  const watch: KeySpec = {
    look: "watch",
    letter: "W",
    title: "Watch",
    note: "note a sign",
    onPress: () => onPanel("watch"),
    disabled: !canAct,
  };
  const went: KeySpec = {
    look: "went",
    letter: "X",
    title: WENT[plan.control],
    note: "say how",
    onPress: onWent,
    disabled: !canAct || shown.rounds.length === 0,
  };
  const small: KeySpec[] = [
    ...measureKeys(family.bench.measures, onPanel, !canAct || (needed.length > 0 && !shown.stood)),
    ...(plan.control === "drop"
      ? [
          {
            look: "plain" as const,
            letter: "D",
            title: "Other height",
            onPress: () => onPanel("height"),
            disabled: !canAct || shown.round_waiting,
            small: true,
            grow: 0.8,
          },
        ]
      : []),
    ...(family.run_out_reasons.length > 0 && plan.control !== "stand"
      ? [
          {
            look: "plain" as const,
            letter: "R",
            title: "Stop here",
            onPress: () => onPanel("ran_out"),
            disabled: !canAct || shown.round_waiting || !shown.stood,
            small: true,
            grow: 0.8,
          },
        ]
      : []),
    {
      look: "plain",
      letter: "V",
      title: "Void",
      onPress: () => onPanel("void"),
      disabled: !canAct,
      small: true,
      grow: 0.6,
    },
  ];

  let main: KeySpec[];
  if (throwing) {
    const hits: KeySpec[] = [true, false].map((hit) => ({
      look: hit ? "held" : "watch",
      letter: hit ? "1" : "2",
      title: hit ? "Hit" : "Miss",
      note: next ? roundNote(plan, next) : "all made",
      onPress: () => act("round", { hit }),
      disabled: !canAct || !next,
      grow: 1.4,
    }));
    const clock: KeySpec[] =
      plan.attack_s !== null && !clockOn && shown.rounds.length === 0
        ? [
            {
              look: "place",
              letter: "↵",
              title: "Start the clock",
              note: `${plan.attack_s} s to throw`,
              onPress: onClock,
              disabled: !canAct,
              grow: 2,
            },
          ]
        : [];
    const end = told ? finish : measure;
    main = [...clock, ...hits, ...(clock.length === 0 && allMade && shown.stood ? [end] : []), watch, undo];
  } else if (plan.control === "stand" && shown.stood) {
    main = [told ? finish : measure, watch, went, undo];
  } else if (!next && !shown.round_waiting) {
    const out: KeySpec = {
      look: "place",
      letter: "↵",
      title: family.run_out_reasons[0]?.label ?? "All made",
      note: "counts as “at least”",
      onPress: () => act("run_out", { reason: family.run_out_reasons[0]?.key ?? "" }),
      disabled: !canAct,
      grow: 2.2,
    };
    main = [out, watch, went, undo];
  } else {
    main = [round, survived, watch, went, undo];
  }
  return <KeyRows rows={[small, main]} />;
}
