import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

export default defineConfig({
  plugins: [react(), tailwindcss()],
  server: { proxy: { "/api": "http://127.0.0.1:8470" } },
  test: { setupFiles: ["src/testing/server.ts"] },
  build: { target: "es2022", sourcemap: false },
});
