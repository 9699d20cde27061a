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
  test: { environment: "happy-dom", include: ["src/**/*.test.{ts,tsx}"] },
});
