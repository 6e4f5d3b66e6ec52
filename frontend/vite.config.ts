import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

// Django serves the built files under /static/ and the page itself; in development Vite passes the API on.
export default defineConfig({
  base: "/static/",
  plugins: [react()],
  build: { target: "es2022", chunkSizeWarningLimit: 800 },
  server: { proxy: { "/api": process.env["GIRDER_API"] ?? "http://127.0.0.1:8360" } },
});
