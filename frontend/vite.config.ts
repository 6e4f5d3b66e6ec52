import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

// Django serves the built files under /static/ and the page itself; in development Vite passes the API on.
export default defineConfig({
  base: "/static/",
  plugins: [react()],
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
