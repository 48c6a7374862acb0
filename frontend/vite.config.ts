import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

export default defineConfig({
  base: "/static/",
  plugins: [react()],
  build: {
    assetsInlineLimit: 0,
    chunkSizeWarningLimit: 700,
    rolldownOptions: {
      // What several screens share comes in one file: forty small ones took a first page half of
      // its time.
      output: {
        codeSplitting: { groups: [{ name: "shared", minShareCount: 3, test: /src/ }] },
      },
    },
  },
  css: {
    preprocessorOptions: {
      scss: {
        quietDeps: true,
        silenceDeprecations: ["import", "global-builtin", "color-functions", "if-function"],
      },
    },
  },
  test: {
    environment: "happy-dom",
    css: false,
    // A page of its own for each of 25 files took three quarters of the time.
    isolate: false,
    setupFiles: "src/testing/setup.ts",
  },
});
