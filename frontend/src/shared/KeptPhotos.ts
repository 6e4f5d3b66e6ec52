/**
 * Photographs that were taken and are not sent yet: kept in the browser's database till the server has them, and sent one
 * after the other, whichever page is open. Knows no React.
 */
import { openDB, type DBSchema, type IDBPDatabase } from "idb";
import { ApiError, isSignedOut, isUnreachable } from "../api/client";
import { newId } from "./newId";
import { soon } from "../api/soon";

export interface WaitingPhoto {
  /** Its name, the same however often it is sent. */
  id: string;
  /** Whose it is, by the words of whoever keeps it. */
  place: string;
  what: "design" | "wreck";
  data: Blob;
}

interface Photos extends DBSchema {
  photos: { key: string; value: WaitingPhoto; indexes: { place: string } };
}

const AGAIN_MS = 4000;
/** How long one may take on a weak line before it is tried again. */
export const PHOTO_PATIENCE_MS = 120_000;

export interface Waiting {
  readonly photos: readonly WaitingPhoto[];
  /** Whether there is nobody to send them to just now. */
  readonly away: boolean;
  /** Why some were not taken, by their names; each waits for a word. */
  readonly refused: ReadonlyMap<string, string>;
}

export class KeptPhotos {
  private now: Waiting = { photos: [], away: false, refused: new Map() };
  private readonly listeners = new Set<() => void>();
  private timer: ReturnType<typeof setTimeout> | undefined;
  private sending = false;
  private closed = false;
  private loaded: Promise<void> | null = null;
  private opened: Promise<IDBPDatabase<Photos>> | null = null;

  /** Those whose places are `mine`, and how one is sent; what is shown of it then is the sender's business. */
  constructor(
    private readonly mine: (place: string) => boolean,
    private readonly send: (photo: WaitingPhoto) => Promise<unknown>,
  ) {}

  readonly snapshot = (): Waiting => this.now;

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  /** Fetches what an earlier visit kept, once, and sends it. */
  async start(): Promise<void> {
    this.closed = false;
    const loaded = this.load();
    // Photographs that are here already do not wait for those that may be in a database which takes its time.
    const inTime = await soon(
      loaded.then(() => true),
      false,
    );
    if (!inTime) void loaded.then(() => this.flush());
    await this.flush();
  }

  /** Send no more; what waits is kept. */
  close(): void {
    this.closed = true;
    clearTimeout(this.timer);
  }

  /** Keeps a photograph, small, and sends it as soon as that can be. */
  async give(file: File, place: string, what: WaitingPhoto["what"]): Promise<void> {
    const photo = { id: newId(), place, what, data: await madeSmall(file) };
    this.tell({ photos: [...this.now.photos, photo] });
    // Where a browser keeps nothing, it waits here till the page is left.
    await soon<unknown>(
      this.database().then((db) => db.put("photos", photo)),
      null,
    );
    await this.flush();
  }

  /** Leaves one out that was not taken. */
  async drop(id: string): Promise<void> {
    await this.forget(id);
    await this.flush();
  }

  private load(): Promise<void> {
    return (this.loaded ??= this.database()
      .then((db) => db.getAll("photos"))
      .then((all) => {
        const here = new Set(this.now.photos.map((photo) => photo.id));
        const earlier = all.filter((photo) => this.mine(photo.place) && !here.has(photo.id));
        this.tell({ photos: [...earlier, ...this.now.photos] });
      })
      // A browser without a database has kept nothing.
      .catch(() => undefined));
  }

  private async flush(): Promise<void> {
    if (this.sending || this.closed) return;
    this.sending = true;
    clearTimeout(this.timer);
    const stumbled = new Set<string>();
    try {
      for (;;) {
        const next = this.now.photos.find(({ id }) => !this.now.refused.has(id) && !stumbled.has(id));
        if (!next) break;
        try {
          await this.send(next);
        } catch (error) {
          if (error instanceof ApiError && !isUnreachable(error) && !isSignedOut(error)) {
            this.tell({ refused: new Map([...this.now.refused, [next.id, error.message]]) });
            continue;
          }
          // The server stumbled over this one: the others need not wait for it.
          if (error instanceof ApiError && error.status === 500) {
            stumbled.add(next.id);
            continue;
          }
          this.later();
          return;
        }
        await this.forget(next.id);
      }
      if (stumbled.size > 0) this.later();
      else this.tell({ away: false });
    } finally {
      this.sending = false;
    }
  }

  private later(): void {
    this.tell({ away: true });
    if (!this.closed) this.timer = setTimeout(() => void this.flush(), AGAIN_MS);
  }

  private async forget(id: string): Promise<void> {
    const refused = new Map(this.now.refused);
    refused.delete(id);
    this.tell({ photos: this.now.photos.filter((photo) => photo.id !== id), refused });
    await soon<unknown>(
      this.database().then((db) => db.delete("photos", id)),
      null,
    );
  }

  private database(): Promise<IDBPDatabase<Photos>> {
    return (this.opened ??= openDB<Photos>("even-girder-photos", 1, {
      upgrade: (db) => db.createObjectStore("photos", { keyPath: "id" }).createIndex("place", "place"),
    }));
  }

  private tell(change: Partial<Waiting>): void {
    this.now = { ...this.now, ...change };
    this.listeners.forEach((listener) => listener());
  }
}

/** A photograph as the server takes it. */
export function asForm(photo: WaitingPhoto): FormData {
  const form = new FormData();
  form.append("photo", photo.data, "photo.jpg");
  form.append("what", photo.what);
  form.append("sent_as", photo.id);
  return form;
}

/** The server keeps no side longer than this [px], so no weak line has to carry more. */
const LONGEST = 1600;

/** A photograph as small as it is kept; one that this browser cannot read goes as it is, and the server says so. */
async function madeSmall(file: Blob): Promise<Blob> {
  try {
    const whole = await createImageBitmap(file);
    const share = Math.min(1, LONGEST / Math.max(whole.width, whole.height));
    const canvas = document.createElement("canvas");
    canvas.width = Math.max(1, Math.round(whole.width * share));
    canvas.height = Math.max(1, Math.round(whole.height * share));
    const surface = canvas.getContext("2d");
    if (!surface) return file;
    surface.drawImage(whole, 0, 0, canvas.width, canvas.height);
    whole.close();
    const small = await new Promise<Blob | null>((done) => canvas.toBlob(done, "image/jpeg", 0.85));
    return small && small.size < file.size ? small : file;
  } catch {
    return file;
  }
}
