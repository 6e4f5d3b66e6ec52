/**
 * What was typed, kept on this tablet till the server has it: a dead network, a closed lid or a flat battery lose nothing.
 *
 * One thing is sent at a time. What no answer came to is tried again; what was refused stays, and says why.
 */
import { useCallback, useEffect, useRef, useState } from "react";
import { ApiError, isUnreachable } from "../../api/client";

const AGAIN_MS = 4000;

interface Kept {
  text: string;
  /** What stood on the server when this was begun. */
  before: string;
  /** When it was typed, by this tablet's clock [ms]. */
  at: number;
}

export interface Sending {
  /** What is not sent yet; null when the server has all. */
  kept: Kept | null;
  away: boolean;
  refused: ApiError | null;
  give: (text: string, before: string) => void;
  drop: () => void;
}

function stored(key: string): Kept | null {
  try {
    return JSON.parse(window.localStorage.getItem(key) ?? "null") as Kept | null;
  } catch {
    return null;
  }
}

function store(key: string, kept: Kept | null): void {
  try {
    if (kept === null) window.localStorage.removeItem(key);
    else window.localStorage.setItem(key, JSON.stringify(kept));
  } catch {
    // A browser that keeps nothing still has it till the page is left.
  }
}

export function useKeptUntilSent(
  key: string,
  send: (kept: Kept) => Promise<unknown>,
  waitMs: number,
): Sending {
  const [kept, setKept] = useState(() => stored(key));
  const [away, setAway] = useState(false);
  const [refused, setRefused] = useState<ApiError | null>(null);
  const [again, setAgain] = useState(0);
  const busy = useRef(false);
  const latest = useRef(send);
  useEffect(() => {
    latest.current = send;
  });
  const now = useRef(kept);
  const keep = useCallback(
    (next: Kept | null) => {
      now.current = next;
      store(key, next);
      setKept(next);
    },
    [key],
  );
  useEffect(() => {
    if (kept === null || refused !== null) return undefined;
    const soon = () => setAgain((count) => count + 1);
    const timer = window.setTimeout(
      () => {
        if (busy.current) return;
        busy.current = true;
        latest
          .current(kept)
          .then(
            () => {
              setAway(false);
              // What was typed meanwhile goes on from what is there now.
              const typed = now.current;
              keep(typed === null || typed.text === kept.text ? null : { ...typed, before: kept.text });
            },
            (error: unknown) => {
              if (error instanceof ApiError && !isUnreachable(error)) setRefused(error);
              else setAway(true);
            },
          )
          .finally(() => {
            busy.current = false;
            // What is still here is sent next: what was typed meanwhile, or the same once more.
            soon();
          });
      },
      away ? AGAIN_MS : waitMs,
    );
    window.addEventListener("online", soon);
    return () => {
      window.clearTimeout(timer);
      window.removeEventListener("online", soon);
    };
  }, [kept, refused, again, away, waitMs, keep]);
  const refusedNow = useRef(refused);
  useEffect(() => {
    refusedNow.current = refused;
  });
  // Who goes to another page does not wait for the pause after the last letter.
  useEffect(() => {
    const leave = () => {
      const left = now.current;
      if (left === null || busy.current || refusedNow.current !== null) return;
      latest.current(left).then(
        () => stored(key)?.at === left.at && store(key, null),
        // It is sent when the page is come back to.
        () => undefined,
      );
    };
    return leave;
  }, [key]);
  return {
    kept,
    away,
    refused,
    give: (text, before) => {
      setRefused(null);
      keep({ text, before, at: Date.now() });
    },
    drop: () => {
      setRefused(null);
      setAway(false);
      keep(null);
    },
  };
}
