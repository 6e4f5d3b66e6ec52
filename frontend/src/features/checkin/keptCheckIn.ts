/**
 * Check-in while the server cannot be asked: what was typed of a design is kept in the browser's database, and sent as
 * soon as that can be, all of it at once. What clashes with what somebody else wrote meanwhile is asked about.
 */
import type { QueryClient } from "@tanstack/react-query";
import { openDB, type DBSchema, type IDBPDatabase } from "idb";
import { ApiError, answered, api, isSignedOut, isUnreachable, PATIENCE_MS } from "../../api/client";
import { keys, showAnswer } from "../../api/queries";
import { soon } from "../../api/soon";
import type { Design, RunState } from "../../api/types";
import { newId } from "../../shared/newId";
import {
  bodyOf,
  older,
  rest,
  withMore,
  type KeptCheckIn,
  type KeptReading,
  type MoreOfIt,
} from "./whatIsKept";

interface Schema extends DBSchema {
  kept: { key: number; value: KeptCheckIn };
}

const RETRY_MS = 3000;

/** A reading that an earlier version of the interface kept: what stood there is not known, so it is asked about. */
const named = (one: KeptReading): KeptReading => ({
  ...one,
  again: false,
  uses: [],
  stood: 0,
  sent_as: newId(),
});

export class KeptCheckIns {
  private readonly kept = new Map<number, KeptCheckIn>();
  private readonly listeners = new Set<() => void>();
  private opened: Promise<IDBPDatabase<Schema>> | null = null;
  private loaded: Promise<void> | null = null;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private readonly sending = new Map<number, Promise<void>>();

  constructor(private readonly client: QueryClient) {}

  readonly of = (design: number): KeptCheckIn | undefined => this.kept.get(design);

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  /** Fetches what an earlier visit kept, once, and sends it. */
  start(): Promise<void> {
    return this.load().then(() => this.sendAll());
  }

  /** Keeps more of a design's check-in, and sends it as soon as that can be. */
  async keep(design: Design, run: number, more: MoreOfIt) {
    await this.load();
    await this.put(withMore(design.id, run, this.kept.get(design.id), more));
    this.later();
  }

  /** What was typed here counts, though somebody else wrote meanwhile; or it is to be tried once more. */
  async again(design: number, confirmed: boolean): Promise<void> {
    const old = this.kept.get(design);
    if (!old) return;
    await this.put({ ...old, confirmed, refused: null });
    await this.send(design);
  }

  /** Leaves out what was typed here. */
  async leaveOut(design: number): Promise<void> {
    const run = this.kept.get(design)?.run;
    await this.drop(design);
    if (run !== undefined) await this.client.invalidateQueries({ queryKey: keys.run(run) });
  }

  /** Sends what is kept of a design; says whether nothing waits any more. */
  async send(design: number): Promise<boolean> {
    await this.load();
    const going = this.sending.get(design) ?? this.sendOne(design).finally(() => this.sending.delete(design));
    this.sending.set(design, going);
    await going;
    return !this.kept.has(design);
  }

  private async sendAll(): Promise<void> {
    clearTimeout(this.timer);
    for (const { design, refused } of this.kept.values()) if (!refused) await this.send(design);
    if ([...this.kept.values()].some((one) => !one.refused)) this.later();
  }

  private later(): void {
    clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.sendAll(), RETRY_MS);
  }

  private async sendOne(design: number): Promise<void> {
    const kept = this.kept.get(design);
    if (!kept || kept.refused) return;
    const { run } = kept;
    try {
      const shown = await answered(
        api.POST("/api/designs/{id}/check-in-kept", {
          params: { path: { id: design } },
          body: bodyOf(kept),
          signal: AbortSignal.timeout(PATIENCE_MS),
        }),
      );
      // What was typed meanwhile goes on from what is there now.
      const now = this.kept.get(design);
      const left = !now || now === kept ? null : rest(now, kept, shown);
      if (left) await this.put(left);
      else await this.drop(design);
      showAnswer<RunState>(
        this.client,
        keys.run(run),
        (old) => old && { ...old, designs: old.designs.map((one) => (one.id === design ? shown : one)) },
      );
    } catch (error) {
      // Signed out, or away: it waits. All else somebody has to hear of.
      if (!(error instanceof ApiError) || isUnreachable(error) || isSignedOut(error)) return;
      await this.put({ ...kept, refused: { sentence: error.message, confirm: error.confirm } });
    }
  }

  private load(): Promise<void> {
    this.loaded ??= this.database()
      .then((db) => db.getAll("kept"))
      .then((all) => {
        for (const one of all) this.kept.set(one.design, older(one, this.kept.get(one.design)));
        this.tell();
        if (all.length > 0) this.later();
      })
      // A browser without a database has kept nothing.
      .catch(() => undefined);
    // One that takes its time keeps nobody waiting; what it kept is sent when it comes.
    return soon(this.loaded, undefined);
  }

  private async put(one: KeptCheckIn): Promise<void> {
    this.kept.set(one.design, one);
    this.tell();
    await soon<unknown>(
      this.database().then((db) => db.put("kept", one)),
      null,
    );
  }

  private async drop(design: number): Promise<void> {
    this.kept.delete(design);
    this.tell();
    await soon<unknown>(
      this.database().then((db) => db.delete("kept", design)),
      null,
    );
  }

  private database(): Promise<IDBPDatabase<Schema>> {
    return (this.opened ??= openDB<Schema>("even-girder-check-in", 2, {
      upgrade: async (db, _from, _to, change) => {
        if (!db.objectStoreNames.contains("kept")) db.createObjectStore("kept", { keyPath: "design" });
        const store = change.objectStore("kept");
        for (const one of await store.getAll())
          await store.put({ ...one, readings: one.readings.map(named) });
      },
    }));
  }

  private tell(): void {
    this.listeners.forEach((listener) => listener());
  }
}

const made = new WeakMap<QueryClient, KeptCheckIns>();

/** Those of this page. */
export function keptCheckIns(client: QueryClient): KeptCheckIns {
  const known = made.get(client) ?? new KeptCheckIns(client);
  made.set(client, known);
  return known;
}
