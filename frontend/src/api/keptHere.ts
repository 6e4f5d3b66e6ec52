/**
 * The browser's databases of what is kept for whoever is signed in: what was fetched last, and the first picture of a
 * test. A sign-out lets go of all of it.
 */
import type { DehydratedState } from "@tanstack/react-query";
import { openDB, type DBSchema } from "idb";
import { soon } from "./soon";

export interface Kept {
  at: number;
  /** Whose it is; null where nobody was signed in. */
  teacher: number | null;
  state: DehydratedState;
}

/** A first picture that later ones are held against, with what was said of it. */
export interface FirstPicture {
  /** Of which trial, and which measure. */
  of: string;
  file: Blob;
  pointed: unknown;
}

interface Fetched extends DBSchema {
  fetched: { key: string; value: Kept };
}

interface Pictures extends DBSchema {
  pictures: { key: string; value: FirstPicture };
}

export const opened = () =>
  openDB<Fetched>("even-girder-fetched", 1, { upgrade: (db) => void db.createObjectStore("fetched") });

const pictures = () =>
  openDB<Pictures>("even-girder-pictures", 1, { upgrade: (db) => void db.createObjectStore("pictures") });

/** Nothing of whoever signed out stays behind. */
export async function forget(): Promise<void> {
  // What does not answer kept nothing.
  await Promise.allSettled([
    opened().then((db) => db.clear("fetched")),
    pictures().then((db) => db.clear("pictures")),
  ]);
}

/** Keeps the first picture of a test, in place of that of the test before. */
export async function keepFirstPicture(picture: FirstPicture): Promise<void> {
  try {
    await (await pictures()).put("pictures", picture, "first");
  } catch {
    // It is there till the page is left.
  }
}

/** The first picture of a test, if it is still here; a database that does not answer has none. */
export async function firstPictureOf(of: string): Promise<FirstPicture | null> {
  const kept = pictures().then((db) => db.get("pictures", "first"));
  const found = await soon<FirstPicture | undefined>(
    kept.catch(() => undefined),
    undefined,
  );
  return found?.of === of ? found : null;
}
