import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

// Django serves the page and, under /static/, the built files. `npm run dev` serves both with reload and passes
// the API on to a Django on port 8461 (see CONTRIBUTING.md).
export default defineConfig(({ command }) => ({
  base: command === "build" ? "/static/" : "/",
  plugins: [react(), tailwindcss()],
  build: { target: "es2022", assetsInlineLimit: 0 },
  test: { setupFiles: "src/testing/patience.ts", testTimeout: 30_000 },
  server: { port: 8462, strictPort: true, proxy: { "/api": "http://127.0.0.1:8461" } },
}));
