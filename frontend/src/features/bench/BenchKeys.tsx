/**
 * The keys at the foot of the bench. Which there are, what they say and when they stand comes from the core; here they
 * get what only the moment knows (what is placed next, how many are left) and what pressing them does.
 */
import type { BenchKey, KitItem } from "../../api/types";
import { formatMass, formatPercent } from "../../shared/format";
import { useUnits } from "../../shared/units";
import { useRunState } from "../run";
import type { Panel } from "./BenchPanels";
import { isSo, nextRound, whyNot } from "./facts";
import { KeyRows } from "./KeyRows";
import type { KeySpec } from "./KeyButton";
import { itemWords, stepWords } from "./kitWords";
import type { BenchTrial } from "./useTrial";

export interface KeysProps {
  bench: BenchTrial;
  facts: ReadonlySet<string>;
  /** How long what is under way has to be waited for, and whether that is over. */
  holdS: number;
  waitOver: boolean;
  /** Whether one is waiting for the end to be saved before going on. */
  leaving: boolean;
  /** Where in a hull the next load goes. */
  seat: string;
  /** For an attack against the clock: whether its clock was started. */
  clockOn: boolean;
  onClock: () => void;
  onPanel: (panel: Panel) => void;
  onHeld: () => void;
  onGoOn: () => void;
}

/** The items that can be placed by themselves, one or five at a time; of numbered objects only the next in order. */
function placeable(kit: readonly KitItem[], placed: Readonly<Record<string, number>>) {
  const next = kit.find((item) => item.order > 0 && !placed[item.key]);
  return kit
    .filter((item) => item.shape !== "platform" && (item.order === 0 || item === next))
    .flatMap((item) => (item.roll_of > 1 || item.order > 0 ? [1] : [1, 5]).map((count) => ({ item, count })));
}

export function BenchKeys(props: KeysProps) {
  const { facts, clockOn, bench } = props;
  const { state: run, atStation } = useRunState();
  const keys = run.keys.filter(
    (key) =>
      isSo(key.shown, facts) &&
      !(key.grown_up && run.run.young) &&
      !(key.does === "clock" && clockOn) &&
      // A picture is looked at by the server, and by the teacher.
      !(key.does === "count" && (atStation || bench.beginning !== null)),
  );
  const specs = useSpecs(props);
  const rows = [true, false].map((small) => keys.filter((key) => key.small === small).flatMap(specs));
  return <KeyRows rows={rows.filter((row) => row.length > 0)} />;
}

/** A key of the core as the bench draws it; the key for single items stands for several. */
function useSpecs(props: KeysProps): (key: BenchKey) => KeySpec[] {
  const { bench, facts, holdS, waitOver, leaving, seat, onClock, onPanel, onHeld, onGoOn } = props;
  const { state: runState, family, atStation } = useRunState();
  const units = useUnits();
  const { act, pending, state, shown } = bench;
  const { kit } = runState.run;
  if (!state || !shown) return () => [];
  const busy = bench.saving === "busy";
  const waiting = pending.length > 0;
  const planned = waiting ? undefined : state.plan.steps[0];
  const plan = state.round_plan;
  const round = plan ? nextRound(plan, shown) : undefined;
  const needsPlatform = kit.some((item) => item.shape === "platform") && !shown.placed["platform"];
  const place = (item: string, count: number) =>
    act("place", { item, count, ...(family.bench.seats && item !== "platform" ? { seat } : {}) });

  const base = (key: BenchKey): KeySpec => {
    const name = key.measure === "" ? key.act : `${key.act}:${key.measure}`;
    const stopped = atStation && key.act ? (state.held_back[key.act] ?? "") : "";
    const why = stopped || (name ? whyNot(runState.acts, state, facts, name, waiting) : "");
    return {
      look: key.look,
      letter: key.enter && isSo(key.enter, facts) ? "↵" : key.letter,
      ...(key.letter ? { also: key.letter } : {}),
      title: key.title,
      note: key.note,
      small: key.small,
      grow: key.grow,
      why,
      disabled: why !== "" || (busy && key.does !== "go_on"),
      onPress: () => undefined,
    };
  };

  const plannedKey = (key: KeySpec): KeySpec => {
    // Far below where it is expected to go, the share of a step says nothing.
    const fine = planned && shown.held_kg > 0 && !planned.far;
    const share = fine ? `, step ${formatPercent(planned.share)}` : "";
    return {
      ...key,
      title: planned
        ? `Place ${itemWords(kit, planned.item, planned.count)}`
        : waiting
          ? "…"
          : "Nothing left to place",
      note: planned
        ? `then ${formatMass(planned.then_kg, units)}${share}`
        : waiting
          ? "planning the next step"
          : state.plan.end_words,
      onPress: () => planned && place(planned.item, planned.count),
      disabled: key.disabled || !planned || shown.step_waiting,
    };
  };

  const itemKeys = (key: KeySpec): KeySpec[] =>
    placeable(kit, shown.placed).map(({ item, count }, i) => {
      const left = item.count - (shown.placed[item.key] ?? 0);
      return {
        ...key,
        letter: String(i + 1),
        title: count === 1 ? item.name : `${count} × ${item.name}`,
        note: `${formatMass(count * item.mass_kg, units)}, ${left} left`,
        disabled: key.disabled || needsPlatform || left < count,
        onPress: () => place(item.key, count),
      };
    });

  const lastStep = shown.steps.at(-1);
  const asks = (key: KeySpec, panel: Panel): KeySpec[] => [{ ...key, onPress: () => onPanel(panel) }];
  const does = (key: KeySpec, onPress: () => void, more: Partial<KeySpec> = {}): KeySpec[] => [
    { ...key, onPress, ...more },
  ];
  return (asked) => {
    const key = base(asked);
    switch (asked.does) {
      case "planned":
        return [plannedKey(key)];
      case "items":
        return itemKeys(key);
      case "held":
        return does(key, onHeld, {
          note: facts.has("waits") && !waitOver ? `after ${holdS} s` : "H, or Enter",
          disabled: key.disabled || !waitOver,
        });
      case "round":
        return does(key, () => act("round"), {
          title: round?.title ?? "All made",
          note: round?.note ?? "say how it ended",
          disabled: key.disabled || !round,
        });
      case "hit":
      case "miss":
        return does(key, () => act("round", { hit: asked.does === "hit" }), {
          note: round?.note ?? "all made",
        });
      case "undo":
        return does(key, () => act("undo", { event: shown.undoable ?? "" }), {
          note: key.note || (lastStep ? stepWords(kit, lastStep, units) : ""),
          disabled: key.disabled || bench.undoWaits,
        });
      case "finish":
        return does(key, () => act("finish"));
      case "came_through_all":
        return does(key, () => act("run_out", { reason: asked.reason }));
      case "clock":
        return does(key, onClock);
      case "go_on":
        return does(key, onGoOn, {
          ...(atStation ? { note: "to our page" } : {}),
          ...(leaving && waiting ? { note: "once it is saved" } : {}),
        });
      case "measure":
        return asks(key, `measure:${asked.measure}`);
      case "take_off":
      case "watch":
      case "went":
      case "void":
      case "pile":
      case "count":
        return asks(key, asked.does);
      case "gauge":
        return asks(key, "load");
      case "stop":
        return asks(key, "ran_out");
      case "other_size":
        return asks(key, "height");
    }
  };
}
