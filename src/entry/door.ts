import type { IncomingMessage, ServerResponse } from "node:http";
import { Readable, Transform } from "node:stream";
import type { ReadableStream } from "node:stream/web";
import proxyAddr from "proxy-addr";
import { Refusal } from "../server/platform";

/** Whose `X-Forwarded-For` is believed: nobody's, or that of the proxies that the configuration names. */
export const addressReader = (trusted: readonly string[]): ((request: IncomingMessage) => string) => {
  const trust = proxyAddr.compile([...trusted]);
  return (request) => proxyAddr(request, trust);
};

const tooLarge = (most: number): Refusal => new Refusal({ code: "too_large", mostBytes: most });

/** Refuses a body that says beforehand that it is larger than its route takes. */
export const mustFit = (request: IncomingMessage, most: number): void => {
  const length = Number(request.headers["content-length"] ?? 0);
  if (length > most) throw tooLarge(most);
};

/** The body as it comes, cut off with a refusal where it grows beyond what its route takes, however it was announced. */
const limited = (request: IncomingMessage, most: number): ReadableStream => {
  let taken = 0;
  const counted = new Transform({
    transform(chunk: Buffer, _encoding, done) {
      taken += chunk.length;
      if (taken > most) done(tooLarge(most));
      else done(undefined, chunk);
    },
  });
  request.on("error", (error) => counted.destroy(error));
  return Readable.toWeb(request.pipe(counted));
};

/**
 * A request as the framework takes it. Its address is that of the configured origin, whatever the Host header says.
 * Throws a refusal (400) where a header cannot be one.
 */
export const webRequest = (request: IncomingMessage, origin: string, mostBytes: number, aborted: AbortSignal): Request => {
  const { method = "GET" } = request;
  try {
    const headers = new Headers();
    for (const [name, value] of Object.entries(request.headers))
      for (const one of Array.isArray(value) ? value : [value ?? ""]) if (!name.startsWith(":")) headers.append(name, one);
    const body = method === "GET" || method === "HEAD" ? {} : { body: limited(request, mostBytes) as unknown as BodyInit, duplex: "half" };
    return new Request(new URL(request.url!, origin), { method, headers, signal: aborted, ...body });
  } catch {
    throw new Refusal({ code: "unreadable_header" });
  }
};

/**
 * Ends a connection whose request was not read to its end. What still comes in is neither read nor thrown away: the sender
 * is held up, told that the connection takes no other request, has a moment to read the answer, and is cut off.
 */
export const hangUpAfter = (request: IncomingMessage, response: ServerResponse): void => {
  if (request.complete) return;
  const { socket } = request;
  request.unpipe();
  // A listener of our own keeps the server from reading the rest by itself.
  request.on("data", () => undefined).pause();
  request.read(0);
  response.shouldKeepAlive = false;
  // Closed whole at once, as the server would, the answer would be lost with what was not read: our side first (RFC 9112, 9.6).
  socket.destroySoon = () => {
    socket.end();
    setTimeout(() => socket.destroy(), 1_000).unref();
  };
};
