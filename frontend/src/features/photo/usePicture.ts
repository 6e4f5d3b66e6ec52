/** A picture that is measured in: what the server finds in it, what is pointed at, what that comes to, and keeping it. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useState } from "react";
import { answered, api } from "../../api/client";
import type { PhotoSize, PictureLook, QuantityKind } from "../../api/types";
import { useSettled } from "../../shared/useSettled";
import { firstPoints, oneOutline, type Point, type Shape } from "./points";
import { form, heldHere, PATIENCE_MS, planeOf, today, useNamed, type Where } from "./sending";
import { ofTablet } from "./tablet";

const SETTLED_MS = 150;

interface Shown {
  file: File;
  /** Whether what was asked about it was answered. */
  confirmed: boolean;
  /** Where the browser has it. */
  url: string;
  look: PictureLook;
}

/** What is measured: a reading of check-in, or what the bench measures. */
export interface Measurable {
  key: string;
  label: string;
  kind: QuantityKind;
}

export function usePicture(designId: number, spec: Measurable) {
  const [shown, setShown] = useState<Shown | null>(null);
  const [shape, setShape] = useState<Shape>(oneOutline([]));
  const [where, setWhere] = useState<Where>({ side: "in", distance: "", within: "" });
  const named = useNamed();
  useEffect(() => () => void (shown && URL.revokeObjectURL(shown.url)), [shown]);
  const look = useMutation({
    mutationFn: async ({ file: chosen, confirmed }: { file: File; confirmed: boolean }) => {
      const file = await heldHere(chosen);
      const found = await answered(
        api.POST("/api/designs/{id}/picture", {
          params: { path: { id: designId } },
          body: { photo: "", key: spec.key, confirmed },
          bodySerializer: () =>
            form({
              photo: file,
              key: spec.key,
              confirmed: String(confirmed),
              today: today(),
              ...ofTablet(),
            }),
          signal: AbortSignal.timeout(PATIENCE_MS),
        }),
      );
      return { file, confirmed, look: found };
    },
    onSuccess: ({ file, confirmed, look: found }) => {
      const { width_px: width, height_px: height } = found.frame;
      setShown({ file, confirmed, url: URL.createObjectURL(file), look: found });
      setShape(
        oneOutline(
          found.ends.length > 0
            ? found.ends.map(([x = 0, y = 0]): Point => [x, y])
            : firstPoints(spec.kind === "area", width, height),
        ),
      );
    },
  });
  // The same as long as nothing moves, or it would be settled, and drawn, over and over.
  const now = useMemo(
    () => ({
      points: shape.points.map(([x, y]) => [x, y]),
      outlines: shape.outlines.length > 1 ? [...shape.outlines] : [],
      ...planeOf(where),
      ...ofTablet(),
    }),
    [shape, where],
  );
  const pointed = useSettled(now, SETTLED_MS);
  const size = useQuery({
    queryKey: ["picture-size", designId, spec.key, shown?.url ?? "", pointed],
    queryFn: async () => {
      if (!shown) throw new Error("There is no picture yet");
      return answered(
        api.POST("/api/designs/{id}/picture-size", {
          params: { path: { id: designId } },
          body: {
            key: spec.key,
            frame: shown.look.frame,
            marks: shown.look.marks,
            ...pointed,
          },
        }),
      );
    },
    enabled: shown !== null && pointed.points.length > 1,
    placeholderData: (before: PhotoSize | undefined) => before,
    gcTime: 0,
    retry: false,
  });
  /** What is sent to keep it: the picture, what is pointed at, and a name that is the same while those are. */
  const sent = (more: string): Record<string, string | Blob> => {
    if (!shown) throw new Error("There is no picture yet");
    const asked = JSON.stringify({ key: spec.key, ...now });
    return {
      photo: shown.file,
      pointed: asked,
      picture_confirmed: String(shown.confirmed),
      today: today(),
      sent_as: named(`${shown.url} ${more} ${asked}`),
    };
  };
  const drop = () => {
    setShown(null);
    look.reset();
  };
  return { shown, shape, setShape, where, setWhere, look, size, sent, drop };
}

export type Picture = ReturnType<typeof usePicture>;
