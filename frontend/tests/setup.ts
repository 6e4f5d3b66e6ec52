/** What pages find in a browser and these tests do not: addresses without a host, a database, sizes. */
import "fake-indexeddb/auto";
import { afterEach } from "vitest";
import { site } from "./site";

const PlainRequest = globalThis.Request;

// An address on this site has no host; and the signal of the page's own making is none that Node's fetch takes.
class SiteRequest extends PlainRequest {
  constructor(input: RequestInfo | URL, init: RequestInit = {}) {
    super(typeof input === "string" ? new URL(input, "http://site.test") : input, { ...init, signal: null });
  }
}
globalThis.Request = SiteRequest;
// The client keeps the fetch that it finds when it is made.
globalThis.fetch = (...asked) => site.fetch(...asked);

if (typeof document !== "undefined") {
  const { cleanup, configure } = await import("@testing-library/react");
  // What was not found is enough; the page around it is hundreds of lines.
  // How long it may take is nobody's claim, as in until.ts.
  configure({
    asyncUtilTimeout: 30_000,
    getElementError: (message) => new Error(message?.split("\n")[0] ?? "not found"),
  });
  afterEach(() => {
    cleanup();
    sessionStorage.clear();
  });
  class Sizes {
    observe() {}
    unobserve() {}
    disconnect() {}
  }
  globalThis.ResizeObserver = Sizes as unknown as typeof ResizeObserver;
}
