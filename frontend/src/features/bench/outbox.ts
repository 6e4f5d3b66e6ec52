/**
 * What was done at the bench and is not acknowledged yet, kept in the browser's database until it is; and what could
 * not be written down, kept until the teacher says what becomes of it.
 */
import { openDB, type DBSchema, type IDBPDatabase } from "idb";
import type { LedgerEvent } from "../../api/types";
import { newId } from "../../shared/newId";

export interface PendingEvent extends LedgerEvent {
  trial: string;
  /** The bench at which it was made; entries of older versions do not say. */
  bench?: string;
}

/** A trial that began here and of which the server does not know yet. */
export interface Beginning {
  trial: string;
  design: number;
  /** Which of its design it is, as far as was known here. */
  number: number;
  arrangement: string;
  wet_reason: string;
  bench: string;
  began_at: string;
  /** Whether the teacher said that it is one more, though its design was tested elsewhere meanwhile. */
  confirmed: boolean;
  /** Why the server does not take it; none before it was asked. */
  refused: { sentence: string; confirm: boolean } | null;
}

/**
 * Why an entry was set aside: the rules did not take it (`refused`), the trial went on at another bench since it was
 * made (`stale`), or it can never be taken as it is (`broken`).
 */
export type AsideKind = "refused" | "stale" | "broken";

/** An entry that is not in the ledger, with the reason. */
export interface AsideEvent extends PendingEvent {
  why: AsideKind;
  code: string;
  sentence: string;
  /** Whether it is taken when it is sent again as confirmed. */
  confirm: boolean;
  /** Whether it was refused at once, with nothing else waiting, so that whoever made it has just been told. */
  told: boolean;
}

/** Whether the teacher still has to say what becomes of it; of one refused at once, the refusal says it all. */
export const asksWhat = (event: AsideEvent): boolean => event.confirm || !event.told;

interface OutboxSchema extends DBSchema {
  events: { key: string; value: PendingEvent; indexes: { trial: string } };
  aside: { key: string; value: AsideEvent; indexes: { trial: string } };
  begun: { key: string; value: Beginning };
}

/** A change of what is kept; all of it happens, or nothing. */
export interface Change {
  put?: readonly PendingEvent[];
  drop?: readonly string[];
  aside?: readonly AsideEvent[];
  settle?: readonly string[];
  begin?: Beginning;
  /** The trial that the server knows by now, or that is left out. */
  begun?: string;
}

export interface Kept {
  events: PendingEvent[];
  aside: AsideEvent[];
  beginning?: Beginning | undefined;
}

const inOrder = (a: PendingEvent, b: PendingEvent) =>
  a.sequence - b.sequence || a.happened_at.localeCompare(b.happened_at);

export class Outbox {
  private opened: Promise<IDBPDatabase<OutboxSchema>> | null = null;

  constructor(private readonly name = "even-girder") {}

  private database(): Promise<IDBPDatabase<OutboxSchema>> {
    // One that could not be opened, or that went away, is opened anew.
    const anew = () => {
      this.opened = null;
    };
    this.opened ??= openDB<OutboxSchema>(this.name, 3, {
      // A page of a newer version is not kept waiting for this one.
      blocking: (_old, _new, event) => {
        (event.target as IDBDatabase).close();
        anew();
      },
      terminated: anew,
      upgrade(db, old) {
        if (old < 1) db.createObjectStore("events", { keyPath: "id" }).createIndex("trial", "trial");
        if (old < 2) db.createObjectStore("aside", { keyPath: "id" }).createIndex("trial", "trial");
        if (old < 3) db.createObjectStore("begun", { keyPath: "trial" });
      },
    });
    this.opened.catch(anew);
    return this.opened;
  }

  /** All that is kept of a trial, in sequence. */
  async of(trial: string): Promise<Kept> {
    const db = await this.database();
    const [events, aside, beginning] = await Promise.all([
      db.getAllFromIndex("events", "trial", trial),
      db.getAllFromIndex("aside", "trial", trial),
      db.get("begun", trial),
    ]);
    return {
      events: events.sort(inOrder),
      aside: aside.sort(inOrder),
      ...(beginning ? { beginning } : {}),
    };
  }

  /** The trials of which something is kept. */
  async trials(): Promise<string[]> {
    const db = await this.database();
    const kept = await Promise.all([db.getAll("events"), db.getAll("aside"), db.getAll("begun")]);
    return [...new Set(kept.flat().map((one) => one.trial))];
  }

  async change({ put = [], drop = [], aside = [], settle = [], begin, begun }: Change): Promise<void> {
    const write = (await this.database()).transaction(["events", "aside", "begun"], "readwrite");
    const events = write.objectStore("events");
    const apart = write.objectStore("aside");
    await Promise.all([
      ...drop.map((id) => events.delete(id)),
      ...put.map((event) => events.put(event)),
      ...settle.map((id) => apart.delete(id)),
      ...aside.map((event) => apart.put(event)),
      ...(begin ? [write.objectStore("begun").put(begin)] : []),
      ...(begun ? [write.objectStore("begun").delete(begun)] : []),
      write.done,
    ]);
  }
}

/** This tab as a bench: it stays the same through reloads, and a second tab is another bench. */
export function benchId(): string {
  const kept = sessionStorage.getItem("bench");
  if (kept) return kept;
  const made = newId();
  sessionStorage.setItem("bench", made);
  return made;
}
