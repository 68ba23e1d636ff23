// A PostgreSQL cluster of the app's own, on loopback. `DATABASE_URL`, where set, is used instead.
import { spawnSync } from "node:child_process";
import { createHash } from "node:crypto";
import { chmodSync, chownSync, existsSync, mkdirSync, readFileSync, writeFileSync, appendFileSync } from "node:fs";
import { dirname, join } from "node:path";
import { freePort, isRoot, postgresBin, root, say } from "./run.mjs";

// PostgreSQL refuses to run as root: as root everything is done as Debian's postgres user.
const asServer = (command, args, options = {}) =>
  isRoot
    ? spawnSync("runuser", ["-u", "postgres", "--", command, ...args], { encoding: "utf8", ...options })
    : spawnSync(command, args, { encoding: "utf8", ...options });

const must = (done, what) => {
  if (done.status !== 0) throw new Error(`${what} failed:\n${done.stdout ?? ""}${done.stderr ?? ""}`);
};

// A clone may lie under a folder that the postgres user cannot pass; then the cluster lives under /var/tmp.
const clusterFolder = (wanted) => {
  mkdirSync(dirname(wanted), { recursive: true });
  if (!isRoot || asServer("test", ["-x", dirname(wanted)]).status === 0) return wanted;
  const name = createHash("sha256").update(wanted).digest("hex").slice(0, 12);
  return join("/var/tmp", `ink-bell-${name}`);
};

/**
 * Starts (or finds running) the cluster in `folder`. Durable by default; tests may give up durability for speed.
 * Returns the URL of the maintenance database, whether the server was `found` running, and a `stop`; a server given by `DATABASE_URL` is never stopped.
 */
export const startPostgres = async ({ folder = join(root, ".data/postgres"), durable = true } = {}) => {
  if (process.env.DATABASE_URL) return { url: process.env.DATABASE_URL, found: true, stop: async () => {} };
  const bin = postgresBin();
  const cluster = clusterFolder(folder);
  if (!existsSync(join(cluster, "PG_VERSION"))) {
    say("creating the database cluster");
    mkdirSync(cluster, { recursive: true });
    if (isRoot) {
      const [uid, gid] = ["-u", "-g"].map((flag) => Number(spawnSync("id", [flag, "postgres"], { encoding: "utf8" }).stdout));
      chownSync(cluster, uid, gid);
    }
    chmodSync(cluster, 0o700);
    must(asServer(join(bin, "initdb"), ["-D", cluster, "-U", "inkbell", "-A", "trust", "-E", "UTF8", "--locale=C.UTF-8"]), "initdb");
    if (!durable) {
      appendFileSync(join(cluster, "postgresql.conf"), "\nfsync=off\nsynchronous_commit=off\nfull_page_writes=off\n");
    }
  }
  const portFile = join(cluster, "ink-bell-port");
  const started = (port, found) => ({
    found,
    url: `postgres://inkbell@127.0.0.1:${port}/postgres`,
    stop: async () => {
      asServer(join(bin, "pg_ctl"), ["stop", "-D", cluster, "-m", "fast", "-w"], { stdio: "ignore" });
    },
  });
  // A server that outlived a killed start is taken over, and ended with this one.
  if (asServer(join(bin, "pg_ctl"), ["status", "-D", cluster]).status === 0) return started(readFileSync(portFile, "utf8"), true);
  const port = await freePort();
  writeFileSync(portFile, String(port));
  const options = `-p ${port} -c listen_addresses=127.0.0.1 -c unix_socket_directories='${cluster}' -c max_connections=120 -c shared_buffers=256MB`;
  // pg_ctl's own output must not hold our pipes open, or the call would never return.
  const log = join(cluster, "server.log");
  must(asServer(join(bin, "pg_ctl"), ["start", "-w", "-D", cluster, "-l", log, "-o", options], { stdio: "ignore" }), "pg_ctl start");
  return started(port, false);
};

/** The same server, another database. */
export const databaseUrl = (url, name) => {
  const other = new URL(url);
  other.pathname = `/${name}`;
  return other.href;
};
