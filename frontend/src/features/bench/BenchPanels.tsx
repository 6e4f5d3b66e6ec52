/** What the bench asks in a panel of its own: which sign, how it went, why it stopped, what comes off, the sag, the pile. */
import type { EventKind } from "../../api/types";
import { useRunState } from "../run/useRunState";
import { ChoicePanel, type Choice } from "./ChoicePanel";
import { ValuePanel } from "./ValuePanel";

export type Panel = "watch" | "went" | "ran_out" | "void" | "take_off" | "sag" | "pile" | null;

interface Props {
  panel: Panel;
  /** What is on the structure, by item key. */
  placed: Readonly<Record<string, number>>;
  act: (kind: EventKind, data: Record<string, unknown>) => void;
  onClose: () => void;
}

interface Asked {
  title: string;
  note?: string;
  choices: readonly Choice[];
  kind: EventKind;
  data: (key: string) => Record<string, unknown>;
}

export function BenchPanels({ panel, placed, act, onClose }: Props) {
  const { state, family } = useRunState();
  if (panel === null) return null;
  if (panel === "sag" || panel === "pile") {
    const sag = panel === "sag";
    return (
      <ValuePanel
        key={panel}
        title={sag ? "Sag at midspan" : "The pile on the scale"}
        note={
          sag
            ? "How far the middle came down since nothing was on it."
            : "Everything that was on it at the end, platform included."
        }
        fields={
          sag
            ? [{ key: "sag", label: "Sag, with its unit", initial: "" }]
            : [
                { key: "mass", label: "Scale shows, with its unit", initial: "" },
                { key: "resolution", label: "Scale's step", initial: "1 g" },
              ]
        }
        onClose={onClose}
        onSave={(texts) => {
          act(sag ? "measure" : "pile_reading", sag ? texts : { ...texts, covers: "all" });
          onClose();
        }}
      />
    );
  }
  const topNumbered = state.run.kit.filter((item) => item.order > 0 && placed[item.key]).at(-1);
  const asked: Record<typeof panel, Asked> = {
    watch: {
      title: "What do you see?",
      choices: family.observations,
      kind: "observe",
      data: (sign) => ({ sign }),
    },
    went: {
      title: "How did it go?",
      note: "The step that broke it does not count as held.",
      choices: family.failure_modes,
      kind: "fail",
      data: (mode) => ({ mode }),
    },
    ran_out: {
      title: "It still stands. Why stop?",
      note: "The result counts as “at least” this much.",
      choices: family.run_out_reasons,
      kind: "run_out",
      data: (reason) => ({ reason }),
    },
    void: {
      title: "What spoiled it?",
      note: "A spoiled trial is listed, not scored, and can be tested again.",
      choices: family.loading_errors,
      kind: "void",
      data: (reason) => ({ reason }),
    },
    take_off: {
      title: "Take off one",
      choices: state.run.kit
        .filter((item) => (placed[item.key] ?? 0) > 0 && (item.order === 0 || item === topNumbered))
        .map((item, i) => ({
          key: item.key,
          letter: String(i + 1),
          label: item.name,
          explanation: `${placed[item.key] ?? 0} on it`,
        })),
      kind: "remove",
      data: (item) => ({ item, count: 1 }),
    },
  };
  const { title, note, choices, kind, data } = asked[panel];
  return (
    <ChoicePanel
      key={panel}
      title={title}
      {...(note ? { note } : {})}
      choices={choices}
      onClose={onClose}
      onChoose={(key) => {
        act(kind, data(key));
        onClose();
      }}
    />
  );
}
