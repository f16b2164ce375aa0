import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { VitePWA } from "vite-plugin-pwa";
import { defineConfig } from "vitest/config";
import own from "./package.json" with { type: "json" };

export default defineConfig({
  define: { __VERSION__: JSON.stringify(own.version) },
  plugins: [
    react(),
    tailwindcss(),
    VitePWA({
      // A page is never changed under a pilot's hands: he is told that there is a newer one, and takes it.
      registerType: "prompt",
      injectRegister: false,
      manifest: {
        name: "Jinba",
        short_name: "Jinba",
        description: "What to change before the next flight, by how much, and what it will then do.",
        id: "/",
        start_url: "/",
        display: "standalone",
        background_color: "#f5f0e3",
        theme_color: "#f5f0e3",
        icons: [
          { src: "/mark.svg", sizes: "any", type: "image/svg+xml", purpose: "any" },
          { src: "/mark-192.png", sizes: "192x192", type: "image/png", purpose: "any" },
          { src: "/mark-512.png", sizes: "512x512", type: "image/png", purpose: "any maskable" },
        ],
      },
      workbox: {
        globPatterns: ["**/*.{html,js,css,svg,png,webmanifest}", "assets/*latin-wght-normal*.woff2"],
        navigateFallback: "/index.html",
        navigateFallbackDenylist: [/^\/api\//],
        // What the program says is kept by the page itself, with its time; the worker keeps the page only.
        runtimeCaching: [],
        cleanupOutdatedCaches: true,
      },
    }),
  ],
  server: { proxy: { "/api": "http://127.0.0.1:8470" } },
  // A machine at a third of its speed types slowly too: the limit is there to end what hangs.
  test: { setupFiles: ["src/testing/server.ts"], testTimeout: 30_000 },
  build: { target: "es2022", sourcemap: false, rolldownOptions: { checks: { pluginTimings: false } } },
});
