/** A length or an area of the bench that does not move, measured in a photo. */
import { useMutation } from "@tanstack/react-query";
import { answered, api } from "../../api/client";
import type { BenchMeasure, BenchSize, Design } from "../../api/types";
import { PhotoDialog } from "./PhotoDialog";
import { form, PATIENCE_MS } from "./sending";
import { usePicture } from "./usePicture";

export interface BenchPhotoProps {
  trialId: string;
  design: Design;
  measure: BenchMeasure;
  /** Takes it as it would have been typed. */
  onTaken: (texts: { text: string; resolution: string; source: string }) => void;
  onClose: () => void;
}

export default function BenchPhoto({ trialId, design, measure, onTaken, onClose }: BenchPhotoProps) {
  const picture = usePicture(design.id, measure);
  const keep = useMutation<BenchSize, Error, { confirmed: boolean; again: boolean }>({
    mutationFn: () =>
      answered(
        api.POST("/api/trials/{id}/measured-picture", {
          params: { path: { id: trialId } },
          body: { photo: "", pointed: "", picture_confirmed: false },
          bodySerializer: () => form(picture.sent(trialId)),
          signal: AbortSignal.timeout(PATIENCE_MS),
        }),
      ),
    onSuccess: ({ text, step_text: resolution }) => onTaken({ text, resolution, source: "picture" }),
  });
  return (
    <PhotoDialog
      spec={measure}
      team={design.team.name}
      names={measure.kind === "area" ? [] : ["One end", "Other end"]}
      picture={picture}
      keep={keep}
      again={false}
      onClose={onClose}
    />
  );
}
