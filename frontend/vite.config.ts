import { createHash } from "node:crypto";
import { readFileSync } from "node:fs";
import react from "@vitejs/plugin-react";
import { build, type Plugin } from "vite";
import { defineConfig } from "vitest/config";

/** Names of what the worker keeps besides the built files: nothing in them changes but with their names. */
const KEPT_AS_THEY_ARE = ["girder.svg", "icon-192.png", "icon-512.png"];

const hashed = (text: string | Uint8Array): string => createHash("sha256").update(text).digest("hex").slice(0, 16);

/** Builds the service worker after the interface, with the list of all that was built. */
function worker(): Plugin {
  return {
    name: "girder-worker",
    apply: "build",
    async writeBundle(_, bundle) {
      const page = bundle["index.html"];
      if (page?.type !== "asset") throw new Error("The interface has no page.");
      const files = Object.keys(bundle).filter((name) => name.startsWith("assets/") && !name.endsWith(".map"));
      const built = [
        { url: "/", revision: hashed(page.source) },
        // Their names carry the hash of what is in them.
        ...files.map((name) => ({ url: `/static/${name}`, revision: null })),
        ...KEPT_AS_THEY_ARE.map((name) => ({
          url: `/static/${name}`,
          revision: hashed(readFileSync(new URL(`public/${name}`, import.meta.url))),
        })),
      ];
      await build({
        configFile: false,
        logLevel: "warn",
        publicDir: false,
        define: { BUILT: JSON.stringify(built), "process.env.NODE_ENV": '"production"' },
        build: {
          outDir: "dist/root",
          emptyOutDir: false,
          target: "es2022",
          lib: { entry: "src/worker/worker.ts", formats: ["iife"], name: "worker", fileName: () => "worker.js" },
        },
      });
    },
  };
}

// Django serves the built files under /static/ and the page itself; in development Vite passes the API on.
export default defineConfig({
  base: "/static/",
  plugins: [react(), worker()],
  build: { target: "es2022", chunkSizeWarningLimit: 800 },
  server: { proxy: { "/api": process.env["GIRDER_API"] ?? "http://127.0.0.1:8360" } },
  // The interface's logic, without a browser. ./girder test runs it against the server's rules.
  test: {
    include: ["tests/**/*.test.{ts,tsx}"],
    setupFiles: ["tests/setup.ts"],
    restoreMocks: true,
    clearMocks: true,
    // Half of the time they wait for the server, so a machine of two cores runs two at once and not one.
    maxWorkers: "100%",
    testTimeout: 60_000,
    hookTimeout: 60_000,
  },
});
