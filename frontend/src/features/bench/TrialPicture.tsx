/** What is on the bench, drawn to scale: the bridge with its pile, the hull with its cargo, the deck with its items. */
import type { Design, TrialState, TrialResult } from "../../api/types";
import { formatLength, formatMass } from "../../shared/format";
import { useUnits } from "../../shared/units";
import { layersOf } from "../../drawing/bridgeGeometry";
import { DeckPlan } from "../../drawing/DeckPlan";
import { HullPlan } from "../../drawing/HullPlan";
import { SetupDrawing } from "../../drawing/SetupDrawing";
import { DesignSpan, useRunState } from "../run";

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
  const size = (key: string) => design.sizes[key] ?? 0;
  if (family.bench.picture === "span") {
    return (
      <DesignSpan
        design={design}
        stack={shown ? layersOf(shown.steps, run.kit) : []}
        {...(shown && shown.read_kg > 0 ? { readLabel: `${formatMass(shown.read_kg, units)} read` } : {})}
        sagM={shown?.last_sag_m ?? 0}
        broken={shown?.outcome === "broke"}
      />
    );
  }
  if (family.bench.picture === "hull" && onSeat) {
    return (
      <HullPlan
        lengthM={size("length")}
        widthM={size("width")}
        seats={shown?.seats ?? {}}
        chosen={seat}
        cargo={cargo}
        onChoose={onSeat}
      />
    );
  }
  if (design.deck_places.length > 0) {
    const item = run.kit.find((item) => item.shape !== "platform");
    return (
      <DeckPlan
        lengthM={size("length")}
        widthM={size("width")}
        itemM={item?.diameter_m ?? 0}
        places={design.deck_places}
        held={shown?.pieces_held ?? 0}
        on={shown?.pieces_on ?? 0}
        lengthLabel={formatLength(size("length"), units)}
        widthLabel={formatLength(size("width"), units)}
      />
    );
  }
  return <SetupDrawing drawing={drawing} width={560} height={440} />;
}
