/** A reading of check-in, measured in a photo. */
import { answered, api } from "../../api/client";
import type { Design, Reading, ReadingSpec } from "../../api/types";
import { useDesignWrite } from "../run";
import { PhotoDialog } from "./PhotoDialog";
import { form, PATIENCE_MS } from "./sending";
import { usePicture } from "./usePicture";

interface Props {
  design: Design;
  spec: ReadingSpec;
  reading: Reading | undefined;
  onKept: (reading: Reading) => void;
  onClose: () => void;
}

export default function ReadingPhoto({ design, spec, reading, onKept, onClose }: Props) {
  const picture = usePicture(design.id, spec);
  const keep = useDesignWrite(
    ({ confirmed, again }: { confirmed: boolean; again: boolean }) =>
      answered(
        api.POST("/api/designs/{id}/photo-readings", {
          params: { path: { id: design.id } },
          body: { photo: "", pointed: "", picture_confirmed: false, confirmed, again },
          bodySerializer: () =>
            form({
              ...picture.sent(String(again)),
              confirmed: String(confirmed),
              again: String(again),
            }),
          signal: AbortSignal.timeout(PATIENCE_MS),
        }),
      ),
    (fresh) => {
      const kept = fresh.readings.find((one) => one.key === spec.key);
      if (kept) onKept(kept);
      onClose();
    },
  );
  const ends = spec.way === "height" ? ["Foot", "Top"] : ["One end", "Other end"];
  return (
    <PhotoDialog
      spec={spec}
      team={design.team.name}
      names={spec.kind === "area" ? [] : ends}
      picture={picture}
      keep={keep}
      again={reading !== undefined}
      onClose={onClose}
    />
  );
}
