import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

export default defineConfig({
  plugins: [react(), tailwindcss()],
  build: {
    outDir: "../src/rhombex/web/static",
    emptyOutDir: true,
    assetsInlineLimit: 0, // the content policy allows no data: fonts or scripts
    chunkSizeWarningLimit: 1200,
  },
  server: { proxy: { "/api": "http://127.0.0.1:8137" } },
});
