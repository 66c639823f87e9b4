import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";
import { compressed } from "./compressed";

export default defineConfig({
  plugins: [react(), tailwindcss(), compressed()],
  build: { target: "es2022", chunkSizeWarningLimit: 700 },
  server: { proxy: { "/api": "http://localhost:8710" } },
  test: { environment: "jsdom", environmentOptions: { jsdom: { url: "http://localhost" } }, globalSetup: "src/tests/answers.setup.ts", unstubGlobals: true, testTimeout: 60_000, hookTimeout: 60_000, setupFiles: "src/tests/patience.setup.ts" },
} as Parameters<typeof defineConfig>[0]);
