/** Sends the photographs that wait on this tablet, one at a time, till the server has them. */
import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useMemo, useSyncExternalStore } from "react";
import { answered, api } from "../../api/client";
import { keys } from "../../api/queries";
import {
  asForm,
  KeptPhotos,
  PHOTO_PATIENCE_MS,
  type Waiting,
  type WaitingPhoto,
} from "../../shared/KeptPhotos";
import { came } from "./page";

interface SendingPhotos extends Waiting {
  give: (file: File, what: WaitingPhoto["what"]) => void;
  drop: (id: string) => void;
}

export function usePhotosUntilSent(place: string): SendingPhotos {
  const client = useQueryClient();
  const kept = useMemo(
    () =>
      new KeptPhotos(
        (other) => other === place,
        async (photo) => client.setQueryData(keys.team, came(await send(photo))),
      ),
    [client, place],
  );
  useEffect(() => {
    const start = () => void kept.start();
    start();
    window.addEventListener("online", start);
    return () => {
      kept.close();
      window.removeEventListener("online", start);
    };
  }, [kept]);
  return {
    ...useSyncExternalStore(kept.subscribe, kept.snapshot),
    give: (file, what) => void kept.give(file, place, what),
    drop: (id) => void kept.drop(id),
  };
}

const send = (photo: WaitingPhoto) =>
  answered(
    api.POST("/api/team/photos", {
      body: { photo: "", what: photo.what, sent_as: photo.id },
      bodySerializer: () => asForm(photo),
      signal: AbortSignal.timeout(PHOTO_PATIENCE_MS),
    }),
  );
