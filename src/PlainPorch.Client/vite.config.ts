import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

export default defineConfig({
  plugins: [react(), tailwindcss()],
  build: { outDir: "../PlainPorch.Web/wwwroot", emptyOutDir: true, chunkSizeWarningLimit: 800 },
  server: { host: "127.0.0.1", proxy: { "/api": "http://127.0.0.1:5180" } },
});
