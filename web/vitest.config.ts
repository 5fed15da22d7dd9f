import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

export default defineConfig({
  plugins: [react()],
  test: {
    testTimeout: 20_000,
    environment: "jsdom",
    setupFiles: ["src/testing/setup.ts"],
    css: false,
  },
});
