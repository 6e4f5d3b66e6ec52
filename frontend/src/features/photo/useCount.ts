/** Loose pieces in a picture: what the server finds in it, the dots that are confirmed, and what that says. */
import { keepPreviousData, useMutation, useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { answered, api } from "../../api/client";
import type { Loose } from "../../api/types";
import type { Dot } from "./DotsField";
import { form, heldHere, PATIENCE_MS, useNamed } from "./sending";

/** What is counted: a load object that was on it or is left, or what a measure of the bench asks for. */
export interface Thing {
  item: string;
  lay: "on" | "left";
  key: string;
}

interface Shown {
  file: File;
  /** Where the browser has it. */
  url: string;
  loose: Loose;
}

const middle = (numbers: readonly number[]): number =>
  [...numbers].sort((a, b) => a - b)[Math.floor(numbers.length / 2)] ?? 0;

export function useCount(trialId: string, thing: Thing) {
  const [shown, setShown] = useState<Shown | null>(null);
  const [dots, setDots] = useState<readonly Dot[]>([]);
  const [chosen, setChosen] = useState(-1);
  const named = useNamed();
  useEffect(() => () => void (shown && URL.revokeObjectURL(shown.url)), [shown]);
  const path = { id: trialId };
  const look = useMutation({
    mutationFn: async ({ file: picked }: { file: File; confirmed: boolean }) => {
      const file = await heldHere(picked);
      const loose = await answered(
        api.POST("/api/trials/{id}/loose-picture", {
          params: { path },
          body: { photo: "" },
          bodySerializer: () => form({ photo: file }),
          signal: AbortSignal.timeout(PATIENCE_MS),
        }),
      );
      return { file, loose };
    },
    onSuccess: ({ file, loose }) => {
      setShown({ file, loose, url: URL.createObjectURL(file) });
      setDots(loose.pieces.map(({ at: [x = 0, y = 0], doubtful }): Dot => ({ at: [x, y], doubtful })));
      setChosen(-1);
    },
  });
  const says = useQuery({
    queryKey: ["recount", trialId, thing, dots.length],
    queryFn: () =>
      answered(
        api.POST("/api/trials/{id}/recount", { params: { path }, body: { ...thing, count: dots.length } }),
      ),
    enabled: shown !== null,
    placeholderData: keepPreviousData,
    gcTime: 0,
    retry: false,
  });
  const keep = useMutation({
    mutationFn: () => {
      if (!shown) throw new Error("There is no picture yet");
      const counted = JSON.stringify({ ...thing, dots: dots.map((dot) => dot.at) });
      return answered(
        api.POST("/api/trials/{id}/counted-picture", {
          params: { path },
          body: { photo: "", counted: "" },
          bodySerializer: () =>
            form({ photo: shown.file, counted, sent_as: named(`${shown.url} ${counted}`) }),
          signal: AbortSignal.timeout(PATIENCE_MS),
        }),
      );
    },
  });
  const set = (fresh: readonly Dot[], index: number) => {
    setDots(fresh);
    setChosen(index);
    keep.reset();
  };
  const drop = () => {
    setShown(null);
    look.reset();
    keep.reset();
  };
  const radius = middle(shown?.loose.pieces.map((piece) => piece.radius_px) ?? []);
  return { shown, dots, set, chosen, setChosen, radius, look, says, keep, drop };
}

export type Count = ReturnType<typeof useCount>;
