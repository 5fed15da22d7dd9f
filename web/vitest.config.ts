import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

export default defineConfig({
  plugins: [react()],
  test: {
    testTimeout: 20_000,
    environment: "jsdom",
    setupFiles: ["src/testing/setup.ts"],
    css: false,
    // Two processors, and what all files import (antd, React) is loaded once by each: a third of the
    // time. A file leaves nothing behind: setup.ts takes down pages, stubs and what is stored.
    maxWorkers: 2,
    isolate: false,
  },
});
