/**
 * The browser's database of what is kept for whoever is signed in: what was fetched last, and the first picture of a
 * test. A sign-out lets go of all of it.
 */
import type { DehydratedState } from "@tanstack/react-query";
import { openDB, type DBSchema } from "idb";

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

interface Schema extends DBSchema {
  fetched: { key: string; value: Kept };
  pictures: { key: string; value: FirstPicture };
}

const VERSION = 2;

export const opened = () =>
  openDB<Schema>("even-girder-fetched", VERSION, {
    upgrade: (db, before) => {
      if (before < 1) db.createObjectStore("fetched");
      if (before < 2) db.createObjectStore("pictures");
    },
    // A tab of a newer version opens it anew.
    blocking: (_before, _after, event) => (event.target as IDBDatabase).close(),
  });

/** Nothing of whoever signed out stays behind. */
export async function forget(): Promise<void> {
  try {
    const db = await opened();
    await Promise.all([db.clear("fetched"), db.clear("pictures")]);
  } catch {
    // Then nothing was kept.
  }
}

/** Keeps the first picture of a test, in place of that of the test before. */
export async function keepFirstPicture(picture: FirstPicture): Promise<void> {
  try {
    await (await opened()).put("pictures", picture, "first");
  } catch {
    // It is there till the page is left.
  }
}

/** The first picture of a test, if it is still here. */
export async function firstPictureOf(of: string): Promise<FirstPicture | null> {
  try {
    const kept = await (await opened()).get("pictures", "first");
    return kept?.of === of ? kept : null;
  } catch {
    return null;
  }
}
