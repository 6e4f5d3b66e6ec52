/** Server-sent events: the stream of a board with its whole state, and that of a run, which says that it changed. */
import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { keys } from "../../api/queries";
import type { BoardState } from "../../api/types";

const TOGETHER_MS = 150;
const RETRY_MS = 3000;
const FULL_MS = 15_000;

export interface BoardStream {
  /** The latest state, and when it came by this page's clock [ms]. */
  shown: { state: BoardState; at: number } | null;
  status: "connecting" | "live" | "waiting" | "gone" | "full";
}

/** A board, live. When the network goes, what was shown stays, and the browser comes back by itself. */
export function useBoardStream(token: string): BoardStream {
  const [stream, setStream] = useState<BoardStream>({ shown: null, status: "connecting" });
  useEffect(() => {
    const source = new EventSource(`/api/boards/${encodeURIComponent(token)}/stream`);
    let retry: number | undefined;
    source.addEventListener("changed", (event: MessageEvent<string>) => {
      const state = JSON.parse(event.data) as BoardState;
      setStream({ shown: { state, at: performance.now() }, status: "live" });
    });
    source.addEventListener("gone", () => {
      source.close();
      setStream({ shown: null, status: "gone" });
    });
    // So many look that this one has to wait; what it shows already stays.
    source.addEventListener("full", () => {
      source.close();
      setStream((old) => ({ ...old, status: "full" }));
      retry = window.setTimeout(() => window.location.reload(), FULL_MS);
    });
    source.onerror = () => {
      const closed = source.readyState === EventSource.CLOSED;
      setStream((old) => ({ ...old, status: closed && old.shown === null ? "gone" : "waiting" }));
      // A server that is away closes for good; it is asked again until it is back.
      if (closed) retry = window.setTimeout(() => window.location.reload(), 4000);
    };
    // A page that is left gives its connection back; when it is come back to, it begins again.
    const leave = () => source.close();
    const back = (event: PageTransitionEvent) => event.persisted && window.location.reload();
    window.addEventListener("pagehide", leave);
    window.addEventListener("pageshow", back);
    return () => {
      window.removeEventListener("pagehide", leave);
      window.removeEventListener("pageshow", back);
      window.clearTimeout(retry);
      source.close();
    };
  }, [token]);
  return stream;
}

/**
 * Fetches the run again whenever anybody, at whichever bench, changed it.
 *
 * It begins once the run is `here`: a fetch that nothing came of yet is not begun again by TanStack Query, so what
 * changed meanwhile would be missed. What changed between that fetch and the standing of the stream is fetched then.
 *
 * A browser opens few connections to one server, and pages that were left can live on for a while; so the stream
 * stands only while its page is looked at, and coming back fetches the run once.
 */
export function useRunStream(run: number, here: boolean): void {
  const client = useQueryClient();
  useEffect(() => {
    if (!here) return;
    let source: EventSource | null = null;
    let soon: number | undefined;
    const close = () => {
      window.clearTimeout(soon);
      source?.close();
      source = null;
    };
    const open = () => {
      if (source !== null || document.visibilityState !== "visible") return;
      source = new EventSource(`/api/runs/${run}/stream`);
      source.onerror = () => {
        // Refused by a server in trouble it would stay closed; it is tried again, and the run fetched then.
        if (source?.readyState !== EventSource.CLOSED) return;
        close();
        soon = window.setTimeout(() => {
          void client.invalidateQueries({ queryKey: keys.run(run) });
          open();
        }, RETRY_MS);
      };
      source.addEventListener("changed", () => {
        // Several changes at once, as of many benches, are one fetch.
        window.clearTimeout(soon);
        soon = window.setTimeout(
          () => void client.invalidateQueries({ queryKey: keys.run(run) }),
          TOGETHER_MS,
        );
      });
    };
    const look = () => (document.visibilityState === "visible" ? open() : close());
    open();
    document.addEventListener("visibilitychange", look);
    window.addEventListener("pagehide", close);
    window.addEventListener("pageshow", open);
    return () => {
      document.removeEventListener("visibilitychange", look);
      window.removeEventListener("pagehide", close);
      window.removeEventListener("pageshow", open);
      close();
    };
  }, [client, run, here]);
}
