/** The worker of the student's page: one file of its own, which any browser takes as a classic
 * script, and whose name stays: a browser asks for it again by that. */
import { defineConfig } from "vite";

export default defineConfig({
  define: { "process.env.NODE_ENV": JSON.stringify("production") },
  publicDir: false,
  build: {
    emptyOutDir: false,
    lib: {
      entry: "src/practice/worker.ts",
      formats: ["iife"],
      name: "practiceWorker",
      fileName: () => "practice-worker.js",
    },
  },
});
