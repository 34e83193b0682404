import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

export default defineConfig({
  plugins: [react(), tailwindcss()],
  build: {
    outDir: "../PlainPorch.Web/wwwroot",
    emptyOutDir: true,
    chunkSizeWarningLimit: 800,
    rolldownOptions: {
      output: {
        // What every page needs is one file, and not one for each part that shares a line of it.
        codeSplitting: {
          groups: [
            {
              name: "base",
              test: /node_modules\/(react|react-dom|react-router|scheduler|@tanstack\/(react-query|query-core))\/|src\/api\/|src\/ui\/(Button|Notice|Failure)\.tsx/,
            },
          ],
        },
      },
    },
  },
  // What the parts compute is tested without a page; what they show, in the real browser.
  test: { environment: "node", include: ["src/**/*.test.ts"] },
  server: { host: "127.0.0.1", proxy: { "/api": "http://127.0.0.1:5180" } },
});
