// The dependency rule does not read .astro files: their imports are checked here. Routes may import anything but
// jobs and entries, and enter the server's rooms by their doors; the interface's own .astro files may not import the
// store's queries or the outside, but for the frame.
import { readFileSync, readdirSync, statSync } from "node:fs";
import { join, relative, resolve } from "node:path";
import { pathToFileURL } from "node:url";
import { root } from "./run.mjs";

const astroFiles = (folder) =>
  readdirSync(folder).flatMap((name) => {
    const path = join(folder, name);
    return statSync(path).isDirectory() ? astroFiles(path) : path.endsWith(".astro") ? [path] : [];
  });

/** The imports of an .astro file that its layer does not allow. `file` is relative to the project. */
export const forbiddenImports = (file, source) => {
  const targets = [...source.matchAll(/from\s+"(\.[^"]+)"/g)].map(([, path]) => relative(root, resolve(root, file, "..", path)));
  // The desk's frame asks who is signed in and what rings next: it is rendered by the routes, on the server.
  const isFrame = file === "src/ui/frame/Desk.astro";
  const forbidden = file.startsWith("src/pages/") || isFrame ? /^src\/(jobs|entry|outside)\// : /^src\/(jobs|entry|outside|server|store)\//;
  const pastTheDoor = /^src\/server\/[^/]+\//;
  return targets.filter((target) => forbidden.test(target) || pastTheDoor.test(target));
};

if (import.meta.url === pathToFileURL(process.argv[1]).href) {
  const wrong = astroFiles(join(root, "src")).flatMap((path) =>
    forbiddenImports(relative(root, path), readFileSync(path, "utf8")).map((target) => `${relative(root, path)} must not import ${target}`),
  );
  if (wrong.length > 0) {
    console.error(wrong.join("\n"));
    process.exit(1);
  }
}
