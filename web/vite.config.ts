import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

export default defineConfig({
  plugins: [react()],
  build: {
    target: "es2022",
    // The content security policy allows no data: fonts, so nothing is inlined.
    assetsInlineLimit: 0,
    chunkSizeWarningLimit: 1200,
  },
});
