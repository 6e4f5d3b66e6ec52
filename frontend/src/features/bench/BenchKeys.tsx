/** The keys at the foot of the bench. One list serves keyboard, touch and pointer, so they cannot differ. */
import type { KitItem, TrialResult, UnitSystem } from "../../api/types";
import { formatMass, formatPercent } from "../../shared/format";
import { useUnits } from "../../shared/units";
import { useRunState } from "../run";
import type { Panel } from "./BenchPanels";
import { goOnKey, KeyRows, undoKey } from "./KeyRows";
import type { KeySpec } from "./KeyButton";
import { itemWords, stepWords } from "./kitWords";
import { measureKeys } from "./RoundKeys";
import type { BenchTrial } from "./useTrial";

interface Props {
  bench: BenchTrial;
  shown: TrialResult;
  holdS: number;
  /** Whether the agreed wait is over. */
  waitOver: boolean;
  /** Whether one is waiting for the end to be saved before going on. */
  leaving: boolean;
  /** Where in a hull the next load goes. */
  seat: string;
  onPanel: (panel: Panel) => void;
  onHeld: () => void;
  onGoOn: () => void;
}

/** Why there is nothing to place any more. */
const END = {
  kit: "the whole kit is on it",
  container: "the container is full",
  limit: "this bench carries no more",
} as const;

/** Singles can be placed one or five at a time, bags one at a time; of numbered objects only the next in order. */
function itemKeys(
  kit: readonly KitItem[],
  shown: TrialResult,
  units: UnitSystem,
  canPlace: boolean,
  place: (item: string, count: number) => void,
): KeySpec[] {
  const next = kit.find((item) => item.order > 0 && !shown.placed[item.key]);
  return kit
    .filter((item) => item.shape !== "platform" && (item.order === 0 || item === next))
    .flatMap((item) => (item.roll_of > 1 || item.order > 0 ? [1] : [1, 5]).map((count) => ({ item, count })))
    .map(({ item, count }, i) => {
      const left = item.count - (shown.placed[item.key] ?? 0);
      return {
        look: "plain",
        letter: String(i + 1),
        title: count === 1 ? item.name : `${count} × ${item.name}`,
        note: `${formatMass(count * item.mass_kg, units)}, ${left} left`,
        disabled: !canPlace || left < count,
        onPress: () => place(item.key, count),
        grow: 1.5,
        small: true,
      };
    });
}

export function BenchKeys({ bench, shown, holdS, waitOver, leaving, seat, onPanel, onHeld, onGoOn }: Props) {
  const { state: runState, family } = useRunState();
  const { run } = runState;
  const units = useUnits();
  const { act, pending, state } = bench;
  const busy = bench.saving === "busy";
  const ended = shown.outcome !== "running";
  const canAct = !ended && !busy;
  const placedAny = Object.values(shown.placed).some((count) => count > 0);
  const loadedAny = shown.load_on_kg > 0;
  const needsPlatform = run.kit.some((item) => item.shape === "platform") && !shown.placed["platform"];
  const planned = pending.length === 0 ? state?.plan.steps[0] : undefined;
  const lastStep = shown.steps.at(-1);
  const place = (item: string, count: number) =>
    act("place", { item, count, ...(family.bench.seats && item !== "platform" ? { seat } : {}) });
  const thenKg = shown.load_on_kg + (planned?.mass_kg ?? 0);
  const undo = undoKey(bench, shown.undoable);

  const measures = family.bench.measures.filter((one) => !one.needed);
  // A tower whose top is loaded can also end without having failed.
  const done: KeySpec[] = family.bench.top_load
    ? [
        {
          look: "plain",
          letter: "D",
          title: "Done",
          onPress: () => act("finish"),
          disabled: !canAct || shown.step_waiting,
          small: true,
          grow: 0.7,
        },
      ]
    : [];

  // What is counted in pieces has no use for a load in one figure.
  const oneFigure: KeySpec[] =
    family.bench.counts_pieces || run.young
      ? []
      : [
          {
            look: "plain",
            letter: "G",
            title: "Gauge",
            onPress: () => onPanel("load"),
            disabled: !canAct,
            small: true,
            grow: 0.9,
          },
        ];

  const rows: KeySpec[][] = ended
    ? [
        [
          goOnKey(leaving, pending.length, onGoOn),
          {
            look: family.bench.weighs_after && !shown.pile_weighed ? "place" : "watch",
            letter: "P",
            title: "Weigh the pile",
            note: family.bench.weighs_after ? "that is how it is told here" : "instead of the count",
            onPress: () => onPanel("pile"),
            disabled: busy || shown.outcome === "void" || shown.read_kg > 0,
          },
          shown.pile_weighed
            ? { ...undo, title: "Undo the weighing", note: "back to the count" }
            : { ...undo, title: "Undo the end", note: "it had not ended" },
        ],
      ]
    : [
        [
          ...itemKeys(run.kit, shown, units, canAct && !needsPlatform, place),
          {
            look: "plain",
            letter: "T",
            title: "Take off",
            onPress: () => onPanel("take_off"),
            disabled: !canAct || !placedAny,
            small: true,
          },
          ...measureKeys(measures, onPanel, !canAct || !loadedAny),
          ...oneFigure,
          ...done,
          {
            look: "plain",
            letter: "R",
            title: "Ran out",
            onPress: () => onPanel("ran_out"),
            disabled: !canAct || shown.step_waiting || shown.held_kg <= 0,
            small: true,
            grow: 0.9,
          },
          {
            look: "plain",
            letter: "V",
            title: "Void",
            onPress: () => onPanel("void"),
            disabled: !canAct,
            small: true,
            grow: 0.7,
          },
        ],
        [
          {
            look: "place",
            letter: shown.step_waiting ? "" : "↵",
            title: planned
              ? `Place ${itemWords(run.kit, planned.item, planned.count)}`
              : pending.length > 0
                ? "…"
                : "Nothing left to place",
            note: planned
              ? `then ${formatMass(thenKg, units)}${shown.held_kg > 0 ? `, step ${formatPercent(planned.mass_kg / thenKg)}` : ""}`
              : pending.length > 0
                ? "planning the next step"
                : END[state?.plan.end ?? "kit"],
            onPress: () => planned && place(planned.item, planned.count),
            disabled: !canAct || !planned || shown.step_waiting,
            grow: 2.3,
          },
          {
            look: "held",
            letter: shown.step_waiting ? "↵" : "H",
            also: "h",
            title: "It held",
            note: shown.step_waiting && !waitOver ? `after ${holdS} s` : "H, or Enter",
            onPress: onHeld,
            disabled: !canAct || !waitOver,
            grow: 1.4,
          },
          {
            look: "watch",
            letter: "W",
            title: "Watch",
            note: "note a sign",
            onPress: () => onPanel("watch"),
            disabled: !canAct,
            grow: 1.1,
          },
          {
            look: "went",
            letter: "X",
            title: "It went",
            note: "say how",
            onPress: () => onPanel("went"),
            disabled: !canAct || !loadedAny,
            grow: 1.1,
          },
          { ...undo, title: "Undo", note: lastStep ? stepWords(run.kit, lastStep, units) : "" },
        ],
      ];

  return <KeyRows rows={rows} />;
}
