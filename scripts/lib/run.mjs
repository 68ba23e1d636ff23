// Small helpers for the scripts, which run on bare Node before any package is installed.
import { spawn, spawnSync } from "node:child_process";
import { createHash, randomInt } from "node:crypto";
import { existsSync, mkdirSync, readFileSync, readdirSync, statSync, writeFileSync } from "node:fs";
import { createServer } from "node:net";
import { dirname, join, resolve } from "node:path";
import { fileURLToPath } from "node:url";

export const root = resolve(dirname(fileURLToPath(import.meta.url)), "../..");
export const isRoot = process.getuid?.() === 0;
export const say = (text) => console.log(`ink bell · ${text}`);

/** Runs a command to its end with its output shown; throws where it fails. */
export const run = (command, args, options = {}) => {
  const done = spawnSync(command, args, { cwd: root, stdio: "inherit", ...options });
  if (done.error) throw done.error;
  if (done.status !== 0) throw new Error(`${command} ${args.join(" ")} ended with ${done.status ?? done.signal}`);
};

/** Starts a long-lived child; the caller ends it. */
export const startChild = (command, args, options = {}) => spawn(command, args, { cwd: root, stdio: ["ignore", "inherit", "inherit"], ...options });

/** Installs Debian packages whose command is missing. Not root: says the one command to run, and stops. */
export const ensureDebian = (wanted) => {
  const missing = wanted.filter(({ present }) => !present()).map(({ name }) => name);
  if (missing.length === 0) return;
  const command = `apt-get update && apt-get install -y ${missing.join(" ")}`;
  if (!isRoot) {
    console.error(`Ink Bell needs ${missing.join(" and ")} from Debian. Run this once as root:\n  ${command}`);
    process.exit(1);
  }
  say(`installing ${missing.join(", ")} from Debian`);
  const env = { ...process.env, DEBIAN_FRONTEND: "noninteractive" };
  run("apt-get", ["update", "-q"], { env });
  run("apt-get", ["install", "-y", "-q", "--no-install-recommends", ...missing], { env });
};

export const debian = {
  postgresql: { name: "postgresql", present: () => postgresBin() !== undefined },
  chromium: { name: "chromium", present: () => existsSync("/usr/bin/chromium") },
};

/** The folder of the newest installed PostgreSQL's programs, or undefined. */
export const postgresBin = () => {
  const base = "/usr/lib/postgresql";
  if (!existsSync(base)) return undefined;
  const newest = readdirSync(base).sort((a, b) => Number(b) - Number(a))[0];
  const bin = newest && join(base, newest, "bin");
  return bin && existsSync(join(bin, "initdb")) ? bin : undefined;
};

/** Runs `npm ci` when the lock has changed since the last install. */
export const ensurePackages = () => {
  const lock = createHash("sha256")
    .update(readFileSync(join(root, "package-lock.json")))
    .digest("hex");
  const stamp = join(root, "node_modules/.ink-bell-lock");
  if (existsSync(stamp) && readFileSync(stamp, "utf8") === lock) return;
  say("installing packages (a minute or two)");
  run("npm", ["ci", "--no-audit", "--no-fund"]);
  writeFileSync(stamp, lock);
};

const sourceState = (paths) => {
  const hash = createHash("sha256");
  const visit = (path) => {
    const stat = statSync(path, { throwIfNoEntry: false });
    if (!stat) return;
    if (stat.isDirectory()) for (const name of readdirSync(path).sort()) visit(join(path, name));
    else hash.update(`${path}:${stat.size}:`).update(readFileSync(path));
  };
  for (const path of paths) visit(join(root, path));
  return hash.digest("hex");
};

/** Builds the app when a source changed since the last build. */
export const ensureBuild = () => {
  const stamp = join(root, "dist/.source-state");
  const state = sourceState(["src", "scripts/build.mjs", "astro.config.mjs", "package-lock.json", "tsconfig.json"]);
  if (existsSync(stamp) && readFileSync(stamp, "utf8") === state) return;
  say("building the app");
  run(process.execPath, ["scripts/build.mjs"]);
  mkdirSync(dirname(stamp), { recursive: true });
  writeFileSync(stamp, state);
};

const isFree = (port) =>
  new Promise((done) => {
    const server = createServer();
    server.once("error", () => done(false));
    server.listen(port, "127.0.0.1", () => server.close(() => done(true)));
  });

// Below the ports that the system gives to outgoing connections (from 32768 on Linux): one of those could be taken by any
// connection between our look and the server's listening.
const portsToDraw = { from: 20_000, below: 32_000 };
const drawn = new Set();

/** A TCP port on loopback that is free now and that no outgoing connection will be given. Never the same twice in one process. */
export const freePort = async () => {
  for (let tries = 0; tries < 100; tries += 1) {
    const port = randomInt(portsToDraw.from, portsToDraw.below);
    if (drawn.has(port) || !(await isFree(port))) continue;
    drawn.add(port);
    return port;
  }
  throw new Error(`found no free port between ${portsToDraw.from} and ${portsToDraw.below} on 127.0.0.1`);
};

/** Waits until a URL answers 200. Throws after `seconds`. */
export const waitFor = async (url, seconds = 60) => {
  const until = Date.now() + seconds * 1000;
  for (;;) {
    try {
      if ((await fetch(url)).ok) return;
    } catch {
      // not up yet
    }
    if (Date.now() > until) throw new Error(`${url} did not answer within ${seconds} s`);
    await new Promise((next) => setTimeout(next, 150));
  }
};

/** Asks a child to stop and waits for it; kills it after ten seconds. */
export const stopChild = (child) =>
  new Promise((done) => {
    if (child.exitCode !== null || child.signalCode !== null) return done();
    const timer = setTimeout(() => child.kill("SIGKILL"), 10_000);
    child.once("exit", () => {
      clearTimeout(timer);
      done();
    });
    child.kill("SIGTERM");
  });
