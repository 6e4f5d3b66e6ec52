/** Asks for what is measured at the bench: yes or no, a number, a length with the step of its tape, or in pictures. */
import type { Design, EventKind, TrialResult } from "../../api/types";
import { BenchPhotoButton, CountButton, FollowButton, type Eye } from "../photo";
import { Notice } from "../../shared/states";
import { useRunState } from "../run";
import { ChoicePanel } from "./ChoicePanel";
import { ValuePanel } from "./ValuePanel";

interface Props {
  /** The key of what is measured. */
  measure: string;
  shown: TrialResult;
  act: (kind: EventKind, data: Record<string, unknown>) => void;
  /** The trial as the server knows it; empty for one that it does not know yet, and at a team's own station. */
  trialId: string;
  design: Design;
  /** Goes on watching what is measured. */
  onWatch: (eye: Eye) => void;
  onClose: () => void;
}

export function MeasurePanel({ measure, shown, act, trialId, design, onWatch, onClose }: Props) {
  const { family } = useRunState();
  const spec = family.bench.measures.find(({ key }) => key === measure);
  if (!spec) return null;
  if (spec.yes_no)
    return (
      <ChoicePanel
        title={spec.label}
        note={spec.how}
        choices={[
          { key: "1", letter: "y", label: "Yes", explanation: "" },
          { key: "0", letter: "n", label: "No", explanation: "" },
        ]}
        onClose={onClose}
        onChoose={(text) => {
          act("measure", { key: spec.key, text, resolution: "1" });
          onClose();
        }}
      />
    );
  const counted = spec.kind === "count";
  const lacks = spec.before !== "" && !design.readings.some(({ key }) => key === spec.before);
  return (
    <ValuePanel
      title={spec.label}
      note={spec.how}
      fields={
        counted
          ? [{ key: "text", label: spec.label, initial: "" }]
          : [
              { key: "text", label: spec.short, initial: "", kind: spec.kind },
              // An area is no reading of one tape from a start.
              ...(spec.kind === "area"
                ? []
                : [{ key: "zero", label: "Starts at", initial: "", kind: spec.kind }]),
              { key: "resolution", label: "Step of the tape", initial: "1 mm", kind: "length" as const },
            ]
      }
      onClose={onClose}
      onSave={(texts) => {
        act("measure", { resolution: "1", ...texts, key: spec.key });
        onClose();
      }}
    >
      {lacks && (
        <Notice kind="caution">
          What stood before the attack is not written down in check-in, so this alone gives no share.
        </Notice>
      )}
      {spec.followed && trialId !== "" && (
        <FollowButton
          trialId={trialId}
          measure={spec}
          team={design.team.name}
          loadKg={shown.load_on_kg}
          onWatch={(eye) => {
            onWatch(eye);
            onClose();
          }}
          onTaken={(texts) => {
            act("measure", { ...texts, key: spec.key });
            onClose();
          }}
        />
      )}
      {spec.pictured && trialId !== "" && (
        <BenchPhotoButton
          trialId={trialId}
          design={design}
          measure={spec}
          onTaken={(texts) => {
            act("measure", { ...texts, key: spec.key });
            onClose();
          }}
        />
      )}
      {spec.counted_loose && trialId !== "" && (
        <CountButton
          trialId={trialId}
          title={`${spec.label} of ${design.team.name}`}
          items={[]}
          measure={spec.key}
          waiting={false}
          onCounted={({ text }) => {
            act("measure", { key: spec.key, text, resolution: "1", source: "picture" });
            onClose();
          }}
        />
      )}
    </ValuePanel>
  );
}
