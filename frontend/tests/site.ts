/** Where requests of a page go: a test may put its own line in between. */
export const realFetch = globalThis.fetch;
export const site: { fetch: typeof globalThis.fetch } = { fetch: realFetch };
