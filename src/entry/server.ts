import { subscribeAll } from "../server/reactions";
import { createReadStream, existsSync, statSync } from "node:fs";
import { createServer, STATUS_CODES, type IncomingMessage, type ServerResponse } from "node:http";
import { extname, join, normalize } from "node:path";
import type { SSRManifest } from "astro";
import { NodeApp } from "astro/app/node";
import {
  answerFailure,
  type App,
  buyerTokenOf,
  failureOf,
  firstVisitHeader,
  emailClickOf,
  firstVisitOf,
  isNormalTarget,
  keptLinkOf,
  logFailure,
  lookOf,
  type PublicAnswer,
  Refusal,
  ruleOf,
  theApp,
  tryLinkOf,
  visitorOf,
} from "../server/platform";
import { ensureTaxTable } from "../server/products";
import { answerPage, countFirstVisit } from "../server/site";
import { moveFiles, recompilePublished } from "../server/pages";
import { migrate } from "../store/orm";
import { isChild, workBeside, workForParent, workHere } from "./background";
import { addressReader, hangUpAfter, mustFit, webRequest } from "./door";

// The process runs `dist/server/entry.mjs`; the browser's files lie beside it.
const client = join(process.argv[1]!, "../../client");
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

/** Sends an answer that is ready. */
const send = (request: IncomingMessage, response: ServerResponse, answer: PublicAnswer): void => {
  const body = answer.bytes ?? Buffer.from(answer.body);
  response.writeHead(answer.status, {
    ...answer.headers,
    ...(answer.cookies?.length ? { "set-cookie": answer.cookies } : {}),
    ...(answer.status === 304 ? {} : { "content-length": body.length }),
  });
  response.end(request.method === "HEAD" ? undefined : body);
};

/**
 * The fast lane: published pages are sent from their compiled parts, without the framework's rendering. Whether the
 * address is one, and a promise where the answer must be waited for.
 */
const fastLane = (app: App, request: IncomingMessage, response: ServerResponse): boolean | Promise<boolean> => {
  const match = request.method === "GET" || request.method === "HEAD" ? pageAddress.exec(request.url ?? "/") : undefined;
  if (!match || (match[2] && handled.test(match[2]))) return false;
  const { headers } = request;
  const answer = answerPage(app, {
    slug: match[1]!,
    path: match[2] ?? "",
    query: new URLSearchParams(match[3]),
    visitorId: visitorOf(headers.cookie),
    keptLink: keptLinkOf(headers.cookie),
    tryLink: tryLinkOf(headers.cookie),
    buyerToken: buyerTokenOf(headers.cookie),
    ...lookOf(request.method, String(headers["sec-purpose"] ?? ""), headers["user-agent"]),
    acceptLanguage: headers["accept-language"],
    firstVisit: firstVisitOf(headers.cookie),
    emailClick: emailClickOf(headers.cookie),
    ifNoneMatch: headers["if-none-match"],
  });
  const sent = (ready: PublicAnswer): true => {
    send(request, response, ready);
    return true;
  };
  return answer instanceof Promise ? answer.then(sent) : sent(answer);
};

/** Counts the first visit of a browser that has come back with its cookies. */
const countArrival = async (app: App, { headers }: IncomingMessage, response: ServerResponse): Promise<void> => {
  const firstVisit = firstVisitOf(headers.cookie);
  const visit = { visitorId: visitorOf(headers.cookie), firstVisit, acceptLanguage: headers["accept-language"] };
  if (firstVisit && (await countFirstVisit(app, visit))) response.setHeader("set-cookie", firstVisitHeader(app));
};

const pathOf = ({ url = "/" }: IncomingMessage): string => url.split("?", 1)[0]!;

// Answers of some kilobytes come out of shared slabs: a piece of memory of its own for each costs more than filling it.
Buffer.poolSize = 1 << 20;

const main = async (astro: NodeApp): Promise<void> => {
  if (!process.env["DATABASE_URL"]) throw new Error("DATABASE_URL is not set; `npm start` sets it.");
  const child = isChild();
  if (!child) await migrate(process.env["DATABASE_URL"]);
  const app = await theApp();
  subscribeAll();
  if (!child) {
    await ensureTaxTable(app.fork());
    await moveFiles(app.fork(), app.files);
    await recompilePublished(app.fork(), app.vendor.name);
  }
  const { INKBELL_ROLE: role, PORT: port, HOST: host, origin } = app.config;
  const addressOf = addressReader(app.config.INKBELL_TRUSTED_PROXIES);
  const background = role === "web" ? undefined : await (role === "all" ? workBeside(app) : workHere(app));

  const health = async (response: ServerResponse): Promise<void> => {
    const database = await app.fork().getConnection().isConnected();
    const ok = database && (background?.ready() ?? true);
    response.writeHead(ok ? 200 : 503, { "content-type": "application/json", "cache-control": "no-store" });
    response.end(JSON.stringify({ ok, database, worker: background ? background.ready() : "elsewhere", now: app.clock.now() }));
  };

  /** The framework's routes: by the route that fits, with a body no larger than that route takes. */
  const route = async (request: IncomingMessage, response: ServerResponse): Promise<void> => {
    const gone = new AbortController();
    response.once("close", () => gone.abort());
    // Which route it is, is found out before a byte of the body is read.
    const routeData = astro.match(new Request(new URL(request.url!, origin)), true);
    const most = (routeData && ruleOf(routeData.route, new URL(request.url!, origin).pathname)?.mostBytes) ?? 0;
    if (routeData) mustFit(request, most);
    const asked = webRequest(request, origin, most, gone.signal);
    const answer = await astro.render(asked, { routeData, clientAddress: addressOf(request), addCookieHeader: true });
    hangUpAfter(request, response);
    await NodeApp.writeResponse(answer, response);
  };

  const server = createServer((request, response) => {
    const fail = (error: unknown) => {
      const failure = failureOf(error, request.method !== "GET" && request.method !== "HEAD");
      if (failure.unexpected || failure.status === 503) logFailure(app, error, pathOf(request));
      if (response.headersSent) return void response.destroy();
      hangUpAfter(request, response);
      void NodeApp.writeResponse(answerFailure(app, failure, pathOf(request)), response);
    };
    const others = async (lane: boolean | Promise<boolean>) => {
      if (await lane) return;
      const pathname = pathOf(request);
      if (pathname === "/healthz") return health(response);
      if (role === "worker") throw new Refusal({ code: "no_pages_here" });
      // The script of a public page comes with the page's cookies: whoever asks for it keeps them.
      if (pathname === "/_ib/page.js") await countArrival(app, request, response);
      if (!sendFile(request, response, pathname)) await route(request, response);
    };
    try {
      if (!isNormalTarget(request.url ?? "")) throw new Refusal({ code: "odd_address" });
      const lane = role !== "worker" && fastLane(app, request, response);
      if (lane !== true) others(lane).catch(fail);
    } catch (error) {
      fail(error);
    }
  });
  // What is no HTTP at all gets an answer with words too, where it can still be heard.
  server.on("clientError", (error: NodeJS.ErrnoException, socket) => {
    if (!socket.writable || error.code === "ECONNRESET") return void socket.destroy();
    const status = error.code === "HPE_HEADER_OVERFLOW" ? 431 : error.code === "ERR_HTTP_REQUEST_TIMEOUT" ? 408 : 400;
    const text = "This request cannot be read.";
    socket.end(
      `HTTP/1.1 ${status} ${STATUS_CODES[status]}\r\nconnection: close\r\ncontent-type: text/plain\r\ncontent-length: ${text.length}\r\n\r\n${text}`,
    );
  });
  if (!child) {
    await new Promise<void>((done) => server.listen(port, host, done));
    app.log.info({ port, role }, "ready");
  }

  let stopping = false;
  const stop = async () => {
    if (stopping) return;
    stopping = true;
    server.close();
    server.closeIdleConnections();
    await background?.stop();
    await app.stop();
    process.exit(0);
  };
  process.on("SIGINT", () => void stop());
  process.on("SIGTERM", () => void stop());
  if (child && background) workForParent(background, stop);
};

/** The built server begins here: Astro's entry calls it with what was built. */
export const start = (manifest: SSRManifest): void => {
  // Pages are rendered whole, so that one that fails half-way is answered as a failure.
  main(new NodeApp(manifest, false)).catch((error: unknown) => {
    console.error(error instanceof Error ? error.message : error);
    process.exit(1);
  });
};

/** Astro's entry exports nothing of ours. */
export const createExports = (): Record<string, never> => ({});
