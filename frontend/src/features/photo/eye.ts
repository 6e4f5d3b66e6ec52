/** What looks at a structure the whole time: this tablet's camera, standing still, or a made-up one to practise with. */
import { answered, api } from "../../api/client";
import type { StandIn } from "./standins";

export interface Eye {
  /** What it sees now, as a picture; with so much on it [kg], which a made-up structure has to be told. */
  grab: (loadKg: number) => Promise<File>;
  stop: () => void;
  /** What a screen shows of it; nothing for a made-up one. */
  stream: MediaStream | null;
}

/** As many pixels as a tablet gives; the first picture and those that follow are asked for alike, so they are alike. */
const WANTED: MediaStreamConstraints = {
  video: { facingMode: "environment", width: { ideal: 3840 }, height: { ideal: 2160 } },
};
const QUALITY = 0.92;
const NOT_ENCRYPTED =
  "A browser gives its camera only to a page that came encrypted. On a school’s network start with --share --tls; " +
  "until then take one picture after the other.";
/** While it is not there yet. */
export const ASKED = "The browser asks whether this page may use the camera: say yes there.";
const NO_CAMERA =
  "No camera came. Let this page use it in the browser’s settings, or take one picture after the other.";

const pictured = (video: HTMLVideoElement): Promise<File> =>
  new Promise((done, failed) => {
    const canvas = document.createElement("canvas");
    [canvas.width, canvas.height] = [video.videoWidth, video.videoHeight];
    canvas.getContext("2d")?.drawImage(video, 0, 0);
    canvas.toBlob(
      (blob) =>
        blob ? done(new File([blob], "seen.jpg", { type: "image/jpeg" })) : failed(new Error(NO_CAMERA)),
      "image/jpeg",
      QUALITY,
    );
  });

/** This tablet's camera; why not, where there is none to be had. */
export async function openCamera(): Promise<Eye> {
  const devices = (navigator as { mediaDevices?: MediaDevices }).mediaDevices;
  if (!devices) throw new Error(NOT_ENCRYPTED);
  const stream = await devices.getUserMedia(WANTED).catch(() => {
    throw new Error(NO_CAMERA);
  });
  const video = document.createElement("video");
  video.muted = true;
  video.playsInline = true;
  video.srcObject = stream;
  await video.play();
  return {
    grab: () => pictured(video),
    stop: () => stream.getTracks().forEach((track) => track.stop()),
    stream,
  };
}

/** A made-up picture, as the server draws it; `by` is how far what it shows gave way [m]. */
export async function drawn(key: StandIn, set: number, by?: number): Promise<File> {
  const blob = await answered(
    api.GET("/api/stand-in-pictures/{key}", {
      params: { path: { key }, query: { set, ...(by === undefined ? {} : { by }) } },
      parseAs: "blob",
    }),
  );
  return new File([blob as unknown as Blob], `${key}.jpg`, { type: "image/jpeg" });
}

/** One that looks at a made-up structure, which gives way so far for each kilogram [m]. */
export const madeUpEye = (key: StandIn, set: number, perKg: number): Eye => ({
  grab: (loadKg) => drawn(key, set, perKg * loadKg),
  stop: () => undefined,
  stream: null,
});
