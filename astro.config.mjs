import react from "@astrojs/react";
import { defineConfig, passthroughImageService } from "astro/config";
import { inkBell } from "./src/entry/adapter.mjs";

export default defineConfig({
  output: "server",
  adapter: inkBell(),
  integrations: [react()],
  // Our own middleware checks the origin of forms and JSON alike; Astro's check would let JSON pass.
  security: { checkOrigin: false },
  // The islands start with small inline scripts: their hashes stand in the page, and nothing else inline may run.
  experimental: { csp: true },
  // Uploads are cut to their sizes when they come in; Astro's own image endpoint does nothing, and the door refuses it.
  image: { service: passthroughImageService() },
  devToolbar: { enabled: false },
  vite: { ssr: { external: ["@mikro-orm/core", "@mikro-orm/postgresql", "@mikro-orm/migrations", "pg", "sharp", "@node-rs/argon2"] } },
});
