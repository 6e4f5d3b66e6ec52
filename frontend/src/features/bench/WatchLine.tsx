/** A measure that is watched while load goes on; what was found is written down when somebody says so. */
import type { EventKind } from "../../api/types";
import { Watch, type Eye } from "../photo";
import { useRunState } from "../run";

interface Props {
  watched: { measure: string; eye: Eye } | null;
  trialId: string;
  loadKg: number;
  act: (kind: EventKind, data: Record<string, unknown>) => void;
  onStop: () => void;
}

export function WatchLine({ watched, trialId, loadKg, act, onStop }: Props) {
  const { family } = useRunState();
  const spec = family.bench.measures.find(({ key }) => key === watched?.measure);
  if (!watched || !spec) return null;
  return (
    <Watch
      trialId={trialId}
      measure={spec}
      eye={watched.eye}
      loadKg={loadKg}
      onTaken={(texts) => act("measure", { ...texts, key: spec.key })}
      onStop={onStop}
    />
  );
}
