import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

export default defineConfig({
  plugins: [react()],
  css: {
    // a component's own style stands beside it; its classes keep the names they are found by
    modules: { generateScopedName: "[local]" },
    preprocessorOptions: { scss: { quietDeps: true, silenceDeprecations: ["import"] } },
  },
  build: {
    chunkSizeWarningLimit: 700,
    assetsInlineLimit: 0,
    rolldownOptions: {
      input: { index: "index.html" },
      checks: { pluginTimings: false },
    },
  },
  server: {
    proxy: { "/api": "http://127.0.0.1:8642" },
    fs: { allow: [".", "../src/clothyard/documents"] }, // the drawings, which the papers share
  },
  test: {
    include: ["src/**/*.test.{ts,tsx}"],
    environment: "node", // a test of what is drawn names jsdom in its first line
    setupFiles: ["src/test.setup.ts"],
  },
});
