/** What was done at the bench and is not acknowledged yet, kept in the browser's database until it is. */
import { openDB, type DBSchema, type IDBPDatabase } from "idb";
import type { LedgerEvent } from "../../api/types";

export interface PendingEvent extends LedgerEvent {
  trial: string;
}

interface OutboxSchema extends DBSchema {
  events: { key: string; value: PendingEvent; indexes: { trial: string } };
}

let opened: Promise<IDBPDatabase<OutboxSchema>> | null = null;

function database(): Promise<IDBPDatabase<OutboxSchema>> {
  opened ??= openDB<OutboxSchema>("even-girder", 1, {
    upgrade(db) {
      db.createObjectStore("events", { keyPath: "id" }).createIndex("trial", "trial");
    },
  });
  return opened;
}

/** The events of a trial that wait, in sequence. */
export async function pendingOf(trial: string): Promise<PendingEvent[]> {
  const events = await (await database()).getAllFromIndex("events", "trial", trial);
  return events.sort((a, b) => a.sequence - b.sequence);
}

export async function keep(events: readonly PendingEvent[]): Promise<void> {
  const write = (await database()).transaction("events", "readwrite");
  await Promise.all([...events.map((event) => write.store.put(event)), write.done]);
}

export async function forget(ids: readonly string[]): Promise<void> {
  const write = (await database()).transaction("events", "readwrite");
  await Promise.all([...ids.map((id) => write.store.delete(id)), write.done]);
}

/** A random id; over plain HTTP in a school network browsers offer no `randomUUID`. */
export function newId(): string {
  const bytes = crypto.getRandomValues(new Uint8Array(16));
  bytes[6] = ((bytes[6] ?? 0) & 0x0f) | 0x40;
  bytes[8] = ((bytes[8] ?? 0) & 0x3f) | 0x80;
  const hex = [...bytes].map((byte) => byte.toString(16).padStart(2, "0")).join("");
  return [hex.slice(0, 8), hex.slice(8, 12), hex.slice(12, 16), hex.slice(16, 20), hex.slice(20)].join("-");
}

/** This tab as a bench: it stays the same through reloads, and a second tab is another bench. */
export function benchId(): string {
  const kept = sessionStorage.getItem("bench");
  if (kept) return kept;
  const made = newId();
  sessionStorage.setItem("bench", made);
  return made;
}
