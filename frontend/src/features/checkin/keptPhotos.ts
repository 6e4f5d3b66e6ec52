/** Photographs that are taken at check-in, of whichever team, kept till the server has them. */
import type { QueryClient } from "@tanstack/react-query";
import { answered, api } from "../../api/client";
import { keys, showAnswer } from "../../api/queries";
import type { RunState } from "../../api/types";
import { asForm, KeptPhotos, PHOTO_PATIENCE_MS, type WaitingPhoto } from "../../shared/KeptPhotos";

const PLACE = /^check-in (\d+) (\d+)$/;

export const photoPlace = (run: number, design: number): string => `check-in ${run} ${design}`;

async function send(client: QueryClient, photo: WaitingPhoto): Promise<void> {
  const [, run, id] = (PLACE.exec(photo.place) ?? []).map(Number);
  if (run === undefined || id === undefined) return;
  const design = await answered(
    api.POST("/api/designs/{id}/photos", {
      params: { path: { id } },
      body: { photo: "", what: photo.what, sent_as: photo.id },
      bodySerializer: () => asForm(photo),
      signal: AbortSignal.timeout(PHOTO_PATIENCE_MS),
    }),
  );
  showAnswer<RunState>(
    client,
    keys.run(run),
    (old) => old && { ...old, designs: old.designs.map((one) => (one.id === id ? design : one)) },
  );
}

const made = new WeakMap<QueryClient, KeptPhotos>();

/** Those of this page. */
export function keptPhotos(client: QueryClient): KeptPhotos {
  const known =
    made.get(client) ??
    new KeptPhotos(
      (place) => PLACE.test(place),
      (photo) => send(client, photo),
    );
  made.set(client, known);
  return known;
}
