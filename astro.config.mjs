import node from "@astrojs/node";
import react from "@astrojs/react";
import tailwindcss from "@tailwindcss/vite";
import { defineConfig } from "astro/config";

export default defineConfig({
  output: "server",
  adapter: node({ mode: "middleware" }),
  integrations: [react()],
  devToolbar: { enabled: false },
  // Fonts as files, not as data: addresses, which our own Content-Security-Policy refuses.
  vite: {
    plugins: [tailwindcss()],
    build: {
      assetsInlineLimit: 0,
      // The core is pure, and so are the words: what a page does not use of them has no part in it.
      rollupOptions: { treeshake: { moduleSideEffects: (id) => !/\/src\/(core|words)\//.test(id) } },
    },
  },
  // Origins are checked by the server in front (src/server/guard-requests.ts), for JSON as well as forms.
  security: { checkOrigin: true },
});
