/** What is on the bench, drawn to scale: the bridge with its pile, the hull with its cargo, the deck with its items. */
import type { Design, TrialState, TrialResult } from "../../api/types";
import { formatLength, formatMass } from "../../shared/format";
import { useUnits } from "../../shared/units";
import { BridgeElevation } from "../../drawing/BridgeElevation";
import { layersOf } from "../../drawing/bridgeGeometry";
import { DeckPlan } from "../../drawing/DeckPlan";
import { HullPlan } from "../../drawing/HullPlan";
import { SetupDrawing } from "../../drawing/SetupDrawing";
import { useRunState } from "../run";

interface Props {
  design: Design;
  /** What the trial shows; none before it starts. */
  shown: TrialResult | null;
  cargo?: TrialState["cargo"];
  seat?: string;
  onSeat?: (seat: string) => void;
}

export function TrialPicture({ design, shown, cargo = null, seat = "mc", onSeat }: Props) {
  const { state, family } = useRunState();
  const units = useUnits();
  const { run, drawing } = state;
  const value = (key: string) => design.readings.find((reading) => reading.key === key)?.value_si;
  if (family.bench.picture === "span") {
    const gap = value("gap") ?? run.setup["gap_m"] ?? 0.3;
    return (
      <BridgeElevation
        gapM={gap}
        overlapLeftM={value("overlap_left") ?? 0.03}
        overlapRightM={value("overlap_right") ?? 0.03}
        stack={shown ? layersOf(shown.steps, run.kit) : []}
        gapLabel={formatLength(gap, units)}
        {...(shown && shown.read_kg > 0 ? { readLabel: `${formatMass(shown.read_kg, units)} read` } : {})}
        sagM={shown?.last_sag_m ?? 0}
        broken={shown?.outcome === "broke"}
      />
    );
  }
  if (family.bench.picture === "hull" && onSeat) {
    const length = value("length") ?? run.setup["length_max_m"] ?? 0.15;
    return (
      <HullPlan
        lengthM={length}
        widthM={value("width") ?? 0.6 * length}
        seats={shown?.seats ?? {}}
        chosen={seat}
        cargo={cargo}
        onChoose={onSeat}
      />
    );
  }
  const length = value("length");
  const width = value("width");
  if (design.deck_places.length > 0 && length && width) {
    const item = run.kit.find((item) => item.shape !== "platform");
    return (
      <DeckPlan
        lengthM={length}
        widthM={width}
        itemM={item?.diameter_m ?? 0}
        places={design.deck_places}
        held={shown?.pieces_held ?? 0}
        on={shown?.pieces_on ?? 0}
        lengthLabel={formatLength(length, units)}
        widthLabel={formatLength(width, units)}
      />
    );
  }
  return <SetupDrawing drawing={drawing} width={560} height={440} />;
}
