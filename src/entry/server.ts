import { createReadStream, existsSync, statSync } from "node:fs";
import { createServer, type IncomingMessage, type ServerResponse } from "node:http";
import { extname, join, normalize } from "node:path";
import { fileURLToPath, pathToFileURL } from "node:url";
import { Worker } from "../jobs/worker";
import { theApp, type App } from "../server/app/app";
import { describeError } from "../server/app/describeError";
import { ensureTaxTable } from "../server/offers/taxTable";
import { answerPage } from "../server/pages/answer";
import { buyerTokenOf, keptLinkOf, tryLinkOf, visitorOf, type PublicAnswer } from "../server/pages/publicRequest";
import { recompilePublished } from "../server/pages/recompile";
import { migrate } from "../store/orm";

const dist = join(fileURLToPath(import.meta.url), "../..");
const client = join(dist, "client");
const types: Record<string, string> = {
  ".js": "text/javascript",
  ".css": "text/css",
  ".woff2": "font/woff2",
  ".svg": "image/svg+xml",
  ".png": "image/png",
  ".ico": "image/x-icon",
};

/** A built file, if the address names one. Hashed names may be kept for ever. */
const sendFile = (request: IncomingMessage, response: ServerResponse, pathname: string): boolean => {
  const path = join(client, normalize(pathname));
  if (!path.startsWith(client) || !types[extname(path)] || !existsSync(path) || !statSync(path).isFile()) return false;
  const hashed = pathname.startsWith("/_astro/");
  response.writeHead(200, {
    "content-type": types[extname(path)]!,
    "x-content-type-options": "nosniff",
    ...(pathname.endsWith(".woff2") ? { "access-control-allow-origin": "*" } : {}),
    "cache-control": hashed ? "public, max-age=31536000, immutable" : "public, max-age=300",
  });
  if (request.method === "HEAD") response.end();
  else createReadStream(path).pipe(response);
  return true;
};

const pageAddress = /^\/l\/([a-z0-9-]+)(?:\/([a-z0-9/-]*?))?\/?(?:\?(.*))?$/;
const handled = /^(?:charge|confirm|(?:frame|live)\/.*)$/;

/**
 * The fast lane: published pages are sent from their compiled parts, without the framework's rendering. Whether the
 * address is one, and a promise where the answer must be waited for.
 */
const fastLane = (app: App, request: IncomingMessage, response: ServerResponse): boolean | Promise<boolean> => {
  const match = request.method === "GET" || request.method === "HEAD" ? pageAddress.exec(request.url ?? "/") : undefined;
  if (!match || (match[2] && handled.test(match[2]))) return false;
  const { headers } = request;
  const send = (answer: PublicAnswer): true => {
    const body = answer.bytes ?? Buffer.from(answer.body);
    response.writeHead(answer.status, {
      ...answer.headers,
      ...(answer.cookies?.length ? { "set-cookie": answer.cookies } : {}),
      ...(answer.status === 304 ? {} : { "content-length": body.length }),
    });
    response.end(request.method === "HEAD" ? undefined : body);
    return true;
  };
  const answer = answerPage(app, {
    slug: match[1]!,
    path: match[2] ?? "",
    query: new URLSearchParams(match[3]),
    visitorId: visitorOf(headers.cookie),
    keptLink: keptLinkOf(headers.cookie),
    tryLink: tryLinkOf(headers.cookie),
    buyerToken: buyerTokenOf(headers.cookie),
    passive: request.method === "HEAD" || String(headers["sec-purpose"] ?? "").includes("prefetch"),
    acceptLanguage: headers["accept-language"],
    ifNoneMatch: headers["if-none-match"],
  });
  return answer instanceof Promise ? answer.then(send) : send(answer);
};

const pathOf = ({ url = "/" }: IncomingMessage): string => url.split("?", 1)[0]!;

// Answers of some kilobytes come out of shared slabs: a piece of memory of its own for each costs more than filling it.
Buffer.poolSize = 1 << 20;

const main = async (): Promise<void> => {
  if (!process.env["DATABASE_URL"]) throw new Error("DATABASE_URL is not set; `npm start` sets it.");
  await migrate(process.env["DATABASE_URL"]);
  const app = await theApp();
  await ensureTaxTable(app.fork());
  await recompilePublished(app.fork(), app.config.INKBELL_VENDOR);
  const { INKBELL_ROLE: role, PORT: port } = app.config;
  const worker = role === "web" ? undefined : new Worker(app);
  await worker?.start();
  const { handler } = (await import(pathToFileURL(join(dist, "server/entry.mjs")).href)) as {
    handler: (request: IncomingMessage, response: ServerResponse) => void;
  };

  const health = async (response: ServerResponse): Promise<void> => {
    const database = await app
      .fork()
      .execute("select 1")
      .then(
        () => true,
        () => false,
      );
    const ok = database && (worker?.ready ?? true);
    response.writeHead(ok ? 200 : 503, { "content-type": "application/json", "cache-control": "no-store" });
    response.end(JSON.stringify({ ok, database, worker: worker ? worker.ready : "elsewhere", now: app.clock.now() }));
  };
  const server = createServer((request, response) => {
    const fail = (error: unknown) => {
      // Without what follows the question mark: links carry tokens there.
      app.log.error({ ...describeError(error), path: pathOf(request) }, "request failed");
      if (!response.headersSent) response.writeHead(500, { "content-type": "text/plain; charset=utf-8" });
      response.end("Something went wrong here. Nothing was charged twice and nothing you typed was kept half; try again in a moment.");
    };
    const others = async (lane: boolean | Promise<boolean>) => {
      if (await lane) return;
      const pathname = pathOf(request);
      if (pathname === "/healthz") return health(response);
      if (role === "worker") return void response.writeHead(404).end();
      if (!sendFile(request, response, pathname)) handler(request, response);
    };
    try {
      const lane = role !== "worker" && fastLane(app, request, response);
      if (lane !== true) others(lane).catch(fail);
    } catch (error) {
      fail(error);
    }
  });
  await new Promise<void>((done) => server.listen(port, "127.0.0.1", done));
  app.log.info({ port, role }, "ready");

  let stopping = false;
  const stop = async () => {
    if (stopping) return;
    stopping = true;
    server.close();
    server.closeIdleConnections();
    await worker?.stop();
    await app.stop();
    process.exit(0);
  };
  process.on("SIGINT", () => void stop());
  process.on("SIGTERM", () => void stop());
};

main().catch((error: unknown) => {
  console.error(error instanceof Error ? error.message : error);
  process.exit(1);
});
