import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";
import { withoutNetwork } from "./offline";

export default defineConfig({
  plugins: [react(), ...withoutNetwork()],
  build: {
    target: "es2022",
    // The page itself is a template of the server and lies beside this folder, not in it.
    outDir: "dist/site",
    // The content security policy allows no data: fonts, so nothing is inlined.
    assetsInlineLimit: 0,
    chunkSizeWarningLimit: 1200,
  },
});
