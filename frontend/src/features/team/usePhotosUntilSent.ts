/** Sends the photographs that wait on this tablet, one at a time, till the server has them. */
import { useCallback, useEffect, useState } from "react";
import { ApiError, answered, api, isUnreachable } from "../../api/client";
import { newId } from "../bench";
import { useShow } from "./page";
import { forgetPhoto, keepPhoto, madeSmall, waitingPhotos, type WaitingPhoto } from "./photoOutbox";

const AGAIN_MS = 4000;

export interface SendingPhotos {
  waiting: readonly WaitingPhoto[];
  away: boolean;
  /** Why the first of them was not taken; it waits for a word. */
  refused: ApiError | null;
  give: (file: File, what: WaitingPhoto["what"]) => Promise<void>;
  drop: (id: string) => Promise<void>;
}

export function usePhotosUntilSent(place: string): SendingPhotos {
  const show = useShow();
  const [waiting, setWaiting] = useState<readonly WaitingPhoto[]>([]);
  const [away, setAway] = useState(false);
  const [refused, setRefused] = useState<ApiError | null>(null);
  const [again, setAgain] = useState(0);
  const look = useCallback(async () => setWaiting(await waitingPhotos(place)), [place]);
  useEffect(() => {
    let here = true;
    void waitingPhotos(place).then((kept) => here && setWaiting(kept));
    return () => {
      here = false;
    };
  }, [place]);
  const first = waiting[0];
  useEffect(() => {
    if (!first || refused) return undefined;
    let here = true;
    const soon = () => setAgain((count) => count + 1);
    const timer = window.setTimeout(
      () => {
        send(first).then(
          async (page) => {
            await forgetPhoto(first.id);
            show(page);
            if (!here) return;
            setAway(false);
            await look();
          },
          (error: unknown) => {
            if (!here) return;
            if (error instanceof ApiError && !isUnreachable(error)) setRefused(error);
            else {
              setAway(true);
              soon();
            }
          },
        );
      },
      away ? AGAIN_MS : 0,
    );
    window.addEventListener("online", soon);
    return () => {
      here = false;
      window.clearTimeout(timer);
      window.removeEventListener("online", soon);
    };
    // `show` is another one at each look; what it does is the same.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [first, refused, again, away, look]);
  return {
    waiting,
    away,
    refused,
    give: async (file, what) => {
      await keepPhoto({ id: newId(), place, what, data: await madeSmall(file) });
      await look();
    },
    drop: async (id) => {
      await forgetPhoto(id);
      setRefused(null);
      await look();
    },
  };
}

function send(photo: WaitingPhoto) {
  return answered(
    api.POST("/api/team/photos", {
      body: { photo: "", what: photo.what, sent_as: photo.id },
      bodySerializer: () => {
        const form = new FormData();
        form.append("photo", photo.data, "photo.jpg");
        form.append("what", photo.what);
        form.append("sent_as", photo.id);
        return form;
      },
    }),
  );
}
