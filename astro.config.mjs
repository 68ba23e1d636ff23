import { createHash } from "node:crypto";
import react from "@astrojs/react";
import { defineConfig, passthroughImageService } from "astro/config";
import { inkBell } from "./src/entry/adapter.mjs";

// The one style sheet that the accessible components write into the page themselves, letter by letter: it is let in by its hash.
const ofPressables = `@layer {
  [data-react-aria-pressable] {
    touch-action: pan-x pan-y pinch-zoom;
  }
}`;

export default defineConfig({
  output: "server",
  adapter: inkBell(),
  integrations: [react()],
  // Our own middleware checks the origin of forms and JSON alike; Astro's check would let JSON pass.
  security: { checkOrigin: false },
  // The islands start with small inline scripts: their hashes stand in the page, and nothing else inline may run.
  experimental: { csp: { styleDirective: { hashes: [`sha256-${createHash("sha256").update(ofPressables).digest("base64")}`] } } },
  // Uploads are cut to their sizes when they come in; Astro's own image endpoint does nothing, and the door refuses it.
  image: { service: passthroughImageService() },
  devToolbar: { enabled: false },
  vite: { ssr: { external: ["@mikro-orm/core", "@mikro-orm/postgresql", "@mikro-orm/migrations", "pg", "sharp", "@node-rs/argon2"] } },
});
