/** What is followed from a first picture to later ones: the picture, the point, and how far it went. */
import { useMutation } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { firstPictureOf, keepFirstPicture } from "../../api/keptHere";
import { answered, api } from "../../api/client";
import type { PictureLook, Went } from "../../api/types";
import type { Point } from "./points";
import { form, heldHere, PATIENCE_MS, planeOf, today, type Where } from "./sending";

/** What is said of the first picture, and holds for all that follow. */
interface Begun {
  look: PictureLook;
  point: Point;
  where: Where;
}

interface First extends Begun {
  file: Blob;
  /** Where the browser has it. */
  url: string;
  /** Whether the point was tried and can be followed. */
  begun: boolean;
}

interface Now {
  url: string;
  went: Went;
}

const IN_PLANE: Where = { side: "in", distance: "", within: "" };
const nameOf = (file: Blob) => (file instanceof File ? file.name : "first.jpg");

/** The browser lets go of a picture that is shown no more. */
function useLetGo(url: string | undefined): void {
  useEffect(() => () => void (url && URL.revokeObjectURL(url)), [url]);
}

export function useFollow(trialId: string, measure: string) {
  const of = `${trialId} ${measure}`;
  const [first, setFirst] = useState<First | null>(null);
  const [now, setNow] = useState<Now | null>(null);
  const [seeking, setSeeking] = useState(true);
  useEffect(() => {
    let left = false;
    void firstPictureOf(of).then((kept) => {
      if (left) return;
      if (kept) {
        const begun = kept.pointed as Begun;
        setFirst({ ...begun, file: kept.file, url: URL.createObjectURL(kept.file), begun: true });
      }
      setSeeking(false);
    });
    return () => {
      left = true;
    };
  }, [of]);
  useLetGo(first?.url);
  useLetGo(now?.url);

  const look = useMutation({
    mutationFn: async ({ file: chosen, confirmed }: { file: File; confirmed: boolean }) => {
      const file = await heldHere(chosen);
      const found = await answered(
        api.POST("/api/trials/{id}/first-picture", {
          params: { path: { id: trialId } },
          body: { photo: "", key: measure, confirmed },
          bodySerializer: () =>
            form({ photo: file, key: measure, confirmed: String(confirmed), today: today() }),
          signal: AbortSignal.timeout(PATIENCE_MS),
        }),
      );
      return { file, look: found };
    },
    onSuccess: ({ file, look: found }) => {
      const { width_px: width, height_px: height } = found.frame;
      const point: Point = [width / 2, height / 2];
      setFirst({ file, url: URL.createObjectURL(file), look: found, point, where: IN_PLANE, begun: false });
    },
  });
  const send = (one: First, file: Blob, keep: boolean) =>
    answered(
      api.POST("/api/trials/{id}/follow", {
        params: { path: { id: trialId } },
        body: { first: "", now: "", pointed: "", keep },
        bodySerializer: () => {
          const pointed = JSON.stringify({ key: measure, points: [one.point], ...planeOf(one.where) });
          const body = form({ pointed, keep: String(keep) });
          body.append("first", one.file, nameOf(one.file));
          body.append("now", file, nameOf(file));
          return body;
        },
        signal: AbortSignal.timeout(PATIENCE_MS),
      }),
    );
  /** Tries the point on its own picture: what cannot be told from its surroundings is said before any load is on. */
  const begin = useMutation({
    mutationFn: (one: First) => send(one, one.file, false),
    onSuccess: (_, one) => {
      setFirst({ ...one, begun: true });
      const { look: found, point, where } = one;
      void keepFirstPicture({ of, file: one.file, pointed: { look: found, point, where } satisfies Begun });
    },
  });
  const follow = useMutation({
    mutationFn: ({ file }: { file: File; confirmed: boolean }) => {
      if (!first) throw new Error("There is no first picture yet");
      return send(first, file, true);
    },
    onSuccess: (went, { file }) => {
      setNow({ url: URL.createObjectURL(file), went });
    },
  });
  const change = (part: Partial<First>) => {
    if (first) setFirst({ ...first, ...part });
    begin.reset();
  };
  const anew = () => {
    setFirst(null);
    setNow(null);
    look.reset();
    begin.reset();
    follow.reset();
  };
  return { seeking, first, now, look, begin, follow, ask: send, change, anew, next: () => setNow(null) };
}

export type Following = ReturnType<typeof useFollow>;
