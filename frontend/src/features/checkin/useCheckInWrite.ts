/** Writes of check-in: sent at once, and where there is nobody to send them to, kept here till there is. */
import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useSyncExternalStore } from "react";
import { isUnreachable, PATIENCE_MS } from "../../api/client";
import { keys } from "../../api/queries";
import type { Design, RunState } from "../../api/types";
import { useDesignWrite, useRunState } from "../run";
import { keptCheckIns } from "./keptCheckIn";
import { keptPhotos } from "./keptPhotos";
import type { KeptCheckIn, MoreOfIt } from "./whatIsKept";

interface Ways<Entry> {
  send: (entry: Entry, signal: AbortSignal) => Promise<Design>;
  /** What is kept of it. */
  keep: (entry: Entry) => MoreOfIt;
  /** How the design looks with it, as far as that needs no working out. */
  shown?: (design: Design, entry: Entry) => Design;
}

/** Readings of a design go one after the other, so that the one typed last is the one that counts. */
export const readingsLine = (design: Design): string => `readings of ${design.id}`;

export function useCheckInWrite<Entry>(
  design: Design,
  { send, keep, shown = (own) => own }: Ways<Entry>,
  onDone?: (design: Design) => void,
  line?: string,
) {
  const client = useQueryClient();
  const run = useRunState().state.run.id;
  const write = async (entry: Entry): Promise<Design> => {
    const kept = keptCheckIns(client);
    // What comes after something that waits, waits too: it goes in the order in which it was typed.
    if (!kept.of(design.id)) {
      try {
        return await send(entry, AbortSignal.timeout(PATIENCE_MS));
      } catch (error) {
        if (!isUnreachable(error)) throw error;
      }
    }
    await kept.keep(design, run, keep(entry));
    const now = client.getQueryData<RunState>(keys.run(run));
    return shown(now?.designs.find((one) => one.id === design.id) ?? design, entry);
  };
  return useDesignWrite(write, onDone, line);
}

/** What of a design's check-in is kept here. */
export function useKept(design: number): KeptCheckIn | undefined {
  const kept = keptCheckIns(useQueryClient());
  return useSyncExternalStore(kept.subscribe, () => kept.of(design));
}

/** Sends what is kept, of whichever design, as soon as there is somebody to send it to. */
export function useSendKept(): void {
  const client = useQueryClient();
  useEffect(() => {
    const send = () => {
      void keptCheckIns(client).start();
      void keptPhotos(client).start();
    };
    send();
    window.addEventListener("online", send);
    return () => window.removeEventListener("online", send);
  }, [client]);
}
