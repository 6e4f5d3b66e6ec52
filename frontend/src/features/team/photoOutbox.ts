/** Photographs that were taken and are not sent yet, kept in the browser's database; and how they are made small. */
import { openDB, type DBSchema } from "idb";

export interface WaitingPhoto {
  /** Its name, the same however often it is sent. */
  id: string;
  /** Whose it is: one team's version in one lesson. */
  place: string;
  what: "design" | "wreck";
  data: Blob;
}

interface Photos extends DBSchema {
  photos: { key: string; value: WaitingPhoto; indexes: { place: string } };
}

const opened = () =>
  openDB<Photos>("even-girder-photos", 1, {
    upgrade: (db) => db.createObjectStore("photos", { keyPath: "id" }).createIndex("place", "place"),
  });

/** Where a browser keeps nothing, they wait here till the page is left. */
const here = new Map<string, WaitingPhoto>();

export async function waitingPhotos(place: string): Promise<WaitingPhoto[]> {
  const inMemory = [...here.values()].filter((photo) => photo.place === place);
  try {
    return [...(await (await opened()).getAllFromIndex("photos", "place", place)), ...inMemory];
  } catch {
    return inMemory;
  }
}

export async function keepPhoto(photo: WaitingPhoto): Promise<void> {
  try {
    await (await opened()).put("photos", photo);
  } catch {
    here.set(photo.id, photo);
  }
}

export async function forgetPhoto(id: string): Promise<void> {
  here.delete(id);
  try {
    await (await opened()).delete("photos", id);
  } catch {
    // Then it was never there.
  }
}

/** The server keeps no side longer than this [px], so no weak line has to carry more. */
const LONGEST = 1600;

/** A photograph as small as it is kept; one that this browser cannot read goes as it is, and the server says so. */
export async function madeSmall(file: Blob): Promise<Blob> {
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
