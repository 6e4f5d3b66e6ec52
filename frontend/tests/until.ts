import { vi } from "vitest";

/** The answer, as soon as there is one. How long it may take is nobody's claim: a slow machine fails no test. */
export const until = <T>(answer: () => T | Promise<T>): Promise<T> =>
  vi.waitFor(answer, { timeout: 30_000, interval: 10 });
