import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

export default defineConfig({
  plugins: [react(), tailwindcss()],
  // Everything ships as a file: an inlined font or picture would need a wider content security policy.
  build: { assetsInlineLimit: 0, chunkSizeWarningLimit: 700 },
});
