/** What the bench asks in a panel of its own: which sign, how it went, why it stopped, what comes off, a load as one
 * figure, the sag, the pile. */
import type { Design, EventKind, TrialResult } from "../../api/types";
import { CountPanel, type Eye } from "../photo";
import { useRunState } from "../run";
import { ChoicePanel, type Choice } from "./ChoicePanel";
import { LoadPanel } from "./LoadPanel";
import { MeasurePanel } from "./MeasurePanel";
import { ValuePanel } from "./ValuePanel";

export type Panel =
  | "watch"
  | "went"
  | "ran_out"
  | "void"
  | "take_off"
  | "load"
  | "pile"
  | "count"
  | "height"
  | `measure:${string}`
  | null;

const MEASURE = "measure:";
const isMeasure = (panel: NonNullable<Panel>): panel is `measure:${string}` => panel.startsWith(MEASURE);

interface Props {
  panel: Panel;
  shown: TrialResult;
  act: (kind: EventKind, data: Record<string, unknown>) => void;
  /** How far into a round it came before it went [s], where that is known. */
  lastedS: number | null;
  /** Where in a hull the next load goes, or comes off. */
  seat: string;
  /** The trial as the server knows it; empty for one that it does not know yet, and at a team's own station. */
  trialId: string;
  /** What is tested. */
  design: Design;
  /** Whether entries wait for the network. */
  waiting: boolean;
  onPanel: (panel: Panel) => void;
  /** Goes on watching a measure. */
  onWatch: (measure: string, eye: Eye) => void;
}

interface Asked {
  title: string;
  note?: string;
  choices: readonly Choice[];
  kind: EventKind;
  data: (key: string) => Record<string, unknown>;
}

export function BenchPanels(props: Props) {
  const { panel, shown, act, lastedS, seat, trialId, design, waiting, onPanel, onWatch } = props;
  const { state, family } = useRunState();
  const onClose = () => onPanel(null);
  if (panel === null) return null;
  if (panel === "load")
    return (
      <LoadPanel
        countedKg={shown.load_on_kg - shown.read_kg}
        onClose={onClose}
        onSave={(data, broke) => {
          act("load_reading", data);
          onPanel(broke ? "went" : null);
        }}
      />
    );
  if (panel === "pile")
    return (
      <ValuePanel
        title="The pile on the scale"
        note="Everything that was on it at the end, platform included."
        fields={[
          { key: "mass", label: "Scale shows", initial: "", kind: "mass" },
          { key: "resolution", label: "Scale’s step", initial: "1 g", kind: "mass" },
        ]}
        onClose={onClose}
        onSave={(texts) => {
          act("pile_reading", { ...texts, covers: "all" });
          onClose();
        }}
      />
    );
  if (panel === "count")
    return (
      <CountPanel
        trialId={trialId}
        title={`Load of ${design.team.name}`}
        items={state.run.kit.filter((item) => item.shape !== "platform")}
        measure=""
        waiting={waiting}
        onCounted={({ sentence }) => {
          act("note", { text: sentence });
          onClose();
        }}
        onClose={onClose}
      />
    );
  if (panel === "height")
    return (
      <ValuePanel
        title={family.procedure.other}
        note="More than the last; less says nothing new."
        fields={[{ key: "height", label: family.procedure.other, initial: "", kind: "length" }]}
        onClose={onClose}
        onSave={(texts) => {
          act("round", texts);
          onClose();
        }}
      />
    );
  if (isMeasure(panel))
    return (
      <MeasurePanel
        measure={panel.slice(MEASURE.length)}
        shown={shown}
        act={act}
        trialId={trialId}
        design={design}
        onWatch={(eye) => onWatch(panel.slice(MEASURE.length), eye)}
        onClose={onClose}
      />
    );
  const topNumbered = state.run.kit.filter((item) => item.order > 0 && shown.placed[item.key]).at(-1);
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
      data: (mode) => ({ mode, ...(lastedS === null ? {} : { after_s: lastedS }) }),
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
        .filter((item) => (shown.placed[item.key] ?? 0) > 0 && (item.order === 0 || item === topNumbered))
        .map((item, i) => ({
          key: item.key,
          letter: String(i + 1),
          label: item.name,
          explanation: `${shown.placed[item.key] ?? 0} on it`,
        })),
      kind: "remove",
      data: (item) => ({ item, count: 1, ...(family.bench.seats && item !== "platform" ? { seat } : {}) }),
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
