// The customer's page, built apart: the same components on a small React of the same interface,
// since a customer opens one page once, often on a telephone.
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";
import shared from "./vite.config.ts";

export default defineConfig({
  plugins: [react()],
  css: shared.css ?? {},
  resolve: {
    alias: [
      { find: /^react-dom\/client$/, replacement: "preact/compat/client" },
      { find: /^react-dom$/, replacement: "preact/compat" },
      { find: /^react\/jsx-runtime$/, replacement: "preact/jsx-runtime" },
      { find: /^react$/, replacement: "preact/compat" },
    ],
  },
  build: {
    emptyOutDir: false,
    assetsInlineLimit: 0,
    rolldownOptions: { input: { customer: "customer.html" }, checks: { pluginTimings: false } },
  },
});
