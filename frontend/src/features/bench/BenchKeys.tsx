/** The keys at the foot of the bench. One list serves keyboard, touch and pointer, so they cannot differ. */
import { Box } from "@mui/material";
import type { KitItem, TrialResult, UnitSystem } from "../../api/types";
import { formatMass, formatPercent } from "../../app/format";
import { useUnits } from "../../app/units";
import { useRunState } from "../run/useRunState";
import type { Panel } from "./BenchPanels";
import { useKeys } from "./keyboard";
import { KeyButton, type KeySpec } from "./KeyButton";
import { itemWords } from "./kitWords";
import type { BenchTrial } from "./useTrial";

interface Props {
  bench: BenchTrial;
  shown: TrialResult;
  holdS: number;
  /** Whether the agreed wait is over. */
  waitOver: boolean;
  /** Whether the keyboard listens; not while a panel is open. */
  listening: boolean;
  /** Whether one is waiting for the end to be saved before going on. */
  leaving: boolean;
  onPanel: (panel: Panel) => void;
  onHeld: () => void;
  onGoOn: () => void;
}

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

export function BenchKeys({
  bench,
  shown,
  holdS,
  waitOver,
  listening,
  leaving,
  onPanel,
  onHeld,
  onGoOn,
}: Props) {
  const { state: runState, family } = useRunState();
  const { run } = runState;
  const units = useUnits();
  const { act, pending, state } = bench;
  const busy = bench.saving === "busy";
  const ended = shown.outcome !== "running";
  const canAct = !ended && !busy;
  const placedAny = Object.values(shown.placed).some((count) => count > 0);
  const needsPlatform = run.kit.some((item) => item.shape === "platform") && !shown.placed["platform"];
  const planned = pending.length === 0 ? state?.plan.steps[0] : undefined;
  const lastStep = shown.steps.at(-1);
  const place = (item: string, count: number) => act("place", { item, count });
  const thenKg = shown.load_on_kg + (planned?.mass_kg ?? 0);
  const undo = {
    look: "plain",
    letter: "Z",
    onPress: () => act("undo", { event: shown.undoable ?? "" }),
    disabled: busy || !shown.undoable || bench.undoWaits,
  } as const;

  // Only a deck over a gap has a sag to be read.
  const sag: KeySpec[] =
    family.key === "bridge"
      ? [
          {
            look: "plain",
            letter: "S",
            title: "Sag",
            onPress: () => onPanel("sag"),
            disabled: !canAct || !placedAny,
            small: true,
            grow: 0.7,
          },
        ]
      : [];

  const rows: KeySpec[][] = ended
    ? [
        [
          {
            look: "place",
            letter: "N",
            title: "Go on",
            note: leaving && pending.length > 0 ? "once it is saved" : "the result, and the next team",
            onPress: onGoOn,
            grow: 2,
          },
          {
            look: "watch",
            letter: "P",
            title: "Weigh the pile",
            note: "instead of the count",
            onPress: () => onPanel("pile"),
            disabled: busy || shown.outcome === "void",
          },
          { ...undo, title: "Undo the end", note: "it had not ended" },
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
          ...sag,
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
                : "ran out, or choose below",
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
            disabled: !canAct || !placedAny,
            grow: 1.1,
          },
          { ...undo, title: "Undo", note: lastStep ? itemWords(run.kit, lastStep.item, lastStep.count) : "" },
        ],
      ];

  const live = rows.flat().filter((key) => !key.disabled);
  useKeys(
    Object.fromEntries(
      live.flatMap((key) =>
        [key.letter === "↵" ? "enter" : key.letter.toLowerCase(), key.also].flatMap((name) =>
          name ? [[name, key.onPress]] : [],
        ),
      ),
    ),
    listening,
  );
  return (
    <>
      {rows.map((row, i) => (
        <Box
          key={i}
          sx={{
            display: "flex",
            gap: row.some((key) => key.small) ? 1 : 1.25,
            flexWrap: row.some((key) => key.small) ? "wrap" : "nowrap",
          }}
        >
          {row.map((key) => (
            <KeyButton key={key.title + key.letter} {...key} />
          ))}
        </Box>
      ))}
    </>
  );
}
