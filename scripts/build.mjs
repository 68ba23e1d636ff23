// Builds the app: the script and fonts of the public pages, the routes, and the server's entry.
import { build } from "esbuild";
import { copyFileSync, mkdirSync, rmSync, statSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { root, run } from "./lib/run.mjs";

const assets = join(root, "public/_ib");

/** The script and fonts that public pages load. Fails where the script grows beyond what a public page may carry. */
export const buildPublicAssets = async () => {
  rmSync(assets, { recursive: true, force: true });
  mkdirSync(join(assets, "fonts"), { recursive: true });
  for (const [source, name, most] of [
    ["page", "page.js", 12],
    ["outside", "countdown.js", 4],
  ]) {
    await build({
      entryPoints: [join(root, `src/public/browser/${source}.ts`)],
      outfile: join(assets, name),
      bundle: true,
      minify: true,
      format: "iife",
      target: "es2020",
    });
    const bytes = statSync(join(assets, name)).size;
    if (bytes > most * 1024) throw new Error(`${name}, a script of public pages, is ${bytes} bytes; at most ${most} KiB are allowed.`);
  }
  for (const [family, name = family] of [["besley"], ["archivo"], ["newsreader"], ["bricolage-grotesque", "bricolage"]]) {
    copyFileSync(
      join(root, `node_modules/@fontsource-variable/${family}/files/${family}-latin-wght-normal.woff2`),
      join(assets, `fonts/${name}.woff2`),
    );
  }
  writeFileSync(
    join(assets, "bell.svg"),
    '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 16 16"><path d="M3 11a5 5 0 0 1 10 0z" fill="#8F5E15"/><rect x="1.5" y="11.6" width="13" height="1.8" fill="#8F5E15"/></svg>',
  );
};

if (import.meta.url === `file://${process.argv[1]}`) {
  await buildPublicAssets();
  run(process.execPath, ["node_modules/astro/astro.js", "build", "--silent"], { env: { ...process.env, ASTRO_TELEMETRY_DISABLED: "1" } });
}
