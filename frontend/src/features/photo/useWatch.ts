/** Watching: a picture each second of what stands before the camera, held against the first one. */
import { useEffect, useRef, useState } from "react";
import type { Went } from "../../api/types";
import { sentenceOf } from "../../shared/states";

/** From one picture to the next; longer where the server takes longer, never two at once [ms]. */
const EVERY_MS = 1000;
/** After one in which it was not found, or that did not get through [ms]. */
const REST_MS = 2000;

export interface Watched {
  /** How far it went when it was last seen; null before that. */
  went: Went | null;
  /** Why the latest picture says nothing; empty where it does. */
  trouble: string;
}

export function useWatch(see: (() => Promise<Went>) | null): Watched {
  const [watched, setWatched] = useState<Watched>({ went: null, trouble: "" });
  // What is asked is another function at each drawing of the page; the round goes on with the latest.
  const seeing = useRef(see);
  useEffect(() => {
    seeing.current = see;
  }, [see]);
  const ready = see !== null;
  useEffect(() => {
    if (!ready) return;
    let left = false;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const look = async () => {
      const began = Date.now();
      let rest = EVERY_MS;
      try {
        const went = await seeing.current?.();
        if (!left && went) setWatched({ went, trouble: "" });
      } catch (error) {
        rest = REST_MS;
        if (!left) setWatched((before) => ({ ...before, trouble: sentenceOf(error) }));
      }
      if (!left) timer = setTimeout(() => void look(), Math.max(0, began + rest - Date.now()));
    };
    void look();
    return () => {
      left = true;
      clearTimeout(timer);
    };
  }, [ready]);
  return watched;
}
