/** A route with its own script, fetched as it is opened. */
import type { ComponentType } from "react";

/** The script of a page did not arrive. It may do so later; a page that fell over would only fall again. */
export class NotArrived extends Error {}

/**
 * A route whose script is fetched before it is shown. The router waits for it by itself: a fallback on screen would
 * hold every page back for the third of a second that React keeps one up.
 */
export const page = (path: string, load: () => Promise<{ default: ComponentType }>) => ({
  path,
  lazy: async () => {
    const script = await load().catch((cause: unknown) => {
      throw new NotArrived(path, { cause });
    });
    return { Component: script.default };
  },
});
