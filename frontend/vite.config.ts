import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

export default defineConfig({
  plugins: [react(), tailwindcss()],
  build: { outDir: "../movrel/web/static", emptyOutDir: true, chunkSizeWarningLimit: 900 },
  server: {
    proxy: {
      "/api": { target: process.env.MOVREL_API ?? "http://127.0.0.1:8420", changeOrigin: false },
    },
  },
  test: {
    environment: "happy-dom",
    projects: [
      // Making an environment for each file took most of the time; what draws has one of its own all the same.
      {
        extends: true,
        test: { name: "rules", isolate: false, include: ["src/**/*.test.ts"] },
      },
      { extends: true, test: { name: "screens", include: ["src/**/*.test.tsx"] } },
    ],
  },
});
