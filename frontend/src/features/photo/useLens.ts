/** Calibrating this tablet's lens: pictures of a card one by one, what they tell so far, and keeping that. */
import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { answered, api, done } from "../../api/client";
import { keys } from "../../api/queries";
import type { LensPicture } from "../../api/types";
import { newId } from "../../shared/newId";
import { drawn } from "./eye";
import { form, heldHere, PATIENCE_MS } from "./sending";
import { FOR_LENS } from "./standins";
import { nameTablet, ofTablet } from "./tablet";

export interface LensShown extends LensPicture {
  /** Where the browser has it. */
  url: string;
}

/** The lenses of this tablet that were calibrated. */
export function useLenses() {
  const { tablet = "" } = ofTablet();
  return useQuery({
    queryKey: keys.lenses(tablet),
    queryFn: () => answered(api.GET("/api/tablets/{tablet}/lenses", { params: { path: { tablet } } })),
    enabled: tablet !== "",
  });
}

const looked = async (file: File): Promise<LensShown> => {
  const found = await answered(
    api.POST("/api/lens-pictures", {
      body: { photo: "" },
      bodySerializer: () => form({ photo: file }),
      signal: AbortSignal.timeout(PATIENCE_MS),
    }),
  );
  return { ...found, url: URL.createObjectURL(file) };
};

export function useLens(setNumber: number) {
  const [pictures, setPictures] = useState<readonly LensShown[]>([]);
  const [tablet] = useState(() => ofTablet().tablet ?? newId());
  const client = useQueryClient();
  const every = useRef(new Set<string>());
  const left = useRef(false);
  useEffect(() => {
    const urls = every.current;
    left.current = false;
    return () => {
      left.current = true;
      urls.forEach((url) => URL.revokeObjectURL(url));
    };
  }, []);
  const put = (picture: LensShown) => {
    every.current.add(picture.url);
    setPictures((before) => [...before, picture]);
  };
  const add = useMutation({
    mutationFn: async (file: File) => looked(await heldHere(file)),
    onSuccess: put,
  });
  /** All that ship, one after the other. */
  const made = useMutation({
    mutationFn: async () => {
      for (const key of FOR_LENS) {
        // Whoever has closed the dialog waits for no more of them.
        if (left.current) return;
        put(await looked(await drawn(key, setNumber)));
      }
    },
  });
  const send = (keep: boolean) =>
    answered(
      api.POST("/api/tablets/{tablet}/lenses", {
        params: { path: { tablet } },
        body: { pictures: pictures.map(({ frame, marks }) => ({ frame, marks })), keep },
      }),
    );
  const told = useQuery({
    queryKey: ["lens", tablet, pictures.map(({ url }) => url)],
    queryFn: () => send(false),
    enabled: pictures.length > 0,
    placeholderData: keepPreviousData,
    gcTime: 0,
    retry: false,
  });
  const keep = useMutation({
    mutationFn: () => send(true),
    onSuccess: () => {
      nameTablet(tablet);
      return client.invalidateQueries({ queryKey: keys.lenses(tablet) });
    },
  });
  const forget = useMutation({
    mutationFn: () => done(api.DELETE("/api/tablets/{tablet}/lenses", { params: { path: { tablet } } })),
    onSuccess: () => client.invalidateQueries({ queryKey: keys.lenses(tablet) }),
  });
  const drop = (url: string) => setPictures((before) => before.filter((one) => one.url !== url));
  return { pictures, add, made, told, keep, forget, drop };
}

export type LensCalibration = ReturnType<typeof useLens>;
