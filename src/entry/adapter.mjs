// Astro's adapter of this app: the server's entry is one of the modules that Astro builds, so that the routes, the fast
// lane and the worker share every module. Two builds would hold two copies of each class, and `instanceof` would fail.
import { fileURLToPath } from "node:url";

export const inkBell = () => ({
  name: "ink-bell",
  hooks: {
    "astro:config:done": ({ setAdapter }) =>
      setAdapter({
        name: "ink-bell",
        serverEntrypoint: fileURLToPath(new URL("./server.ts", import.meta.url)),
        adapterFeatures: { buildOutput: "server", edgeMiddleware: false },
        supportedAstroFeatures: { serverOutput: "stable", sharpImageService: "unsupported" },
      }),
    // Error logs name the lines of the source.
    "astro:build:setup": ({ target, updateConfig }) => {
      if (target === "server") updateConfig({ build: { sourcemap: true } });
    },
  },
});
