/**
 * The interface kept in the browser by its worker, and whether a newer version waits. It is taken when somebody says so,
 * never by itself while a page is open.
 */
import { useSyncExternalStore } from "react";
import { Workbox } from "workbox-window";

/** The first screens of a page come before its worker. */
const AFTER_MS = 6000;
const LOOK_EVERY_MS = 15 * 60_000;
/** The browser lets a newer worker take over at once, unless the old one is held by something that does not end. */
const TAKES_OVER_MS = 8000;

let waiting: Workbox | null = null;
/** Whether somebody asked for it, and it is about to open. */
let taking = false;
/** How many things are under way that a new version must not interrupt. */
let busy = 0;
const listeners = new Set<() => void>();
const tell = () => listeners.forEach((listener) => listener());

/** Has the worker keep the interface, where the browser can: over an encrypted line, or on the machine itself. */
export function keepInterface(): void {
  if (!import.meta.env.PROD || !("serviceWorker" in navigator)) return;
  const worker = new Workbox("/worker.js");
  worker.addEventListener("waiting", () => {
    waiting = worker;
    tell();
  });
  window.setTimeout(() => {
    void worker.register().catch(() => undefined);
    window.setInterval(() => void worker.update().catch(() => undefined), LOOK_EVERY_MS);
  }, AFTER_MS);
}

/** Opens the newer version; what is not sent yet is kept and goes on there. */
export function takeNewVersion(): void {
  if (!waiting || taking) return;
  taking = true;
  tell();
  waiting.addEventListener("controlling", () => window.location.reload());
  waiting.messageSkipWaiting();
  window.setTimeout(() => void openWithoutWorker(), TAKES_OVER_MS);
}

/** Opens what the server has, which is the newest, past an old worker that does not make room. */
async function openWithoutWorker(): Promise<void> {
  try {
    // Without a network there is only what is kept, so that stays.
    if ((await fetch("/worker.js", { cache: "no-store" })).ok) {
      const registration = await navigator.serviceWorker.getRegistration();
      await registration?.unregister();
      window.location.reload();
      return;
    }
  } catch {
    // It can be asked for again.
  }
  taking = false;
  tell();
}

/** Says that something is under way that must not be interrupted; gives how to say that it is over. */
export function underWay(): () => void {
  busy += 1;
  tell();
  return () => {
    busy -= 1;
    tell();
  };
}

type Standing = "none" | "later" | "now" | "taking";

const standing = (): Standing => (!waiting ? "none" : taking ? "taking" : busy > 0 ? "later" : "now");

function subscribe(listener: () => void): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

/** Whether there is a newer version, and whether it can be taken now. */
export const useNewVersion = (): Standing => useSyncExternalStore(subscribe, standing);
