import { once } from "node:events";
import { request, type IncomingHttpHeaders } from "node:http";
import { stack } from "./desk";

export interface RawAnswer {
  status: number;
  headers: IncomingHttpHeaders;
  body: string;
  /** Bytes of the request's body that went out before the answer came. */
  sent: number;
}

/** A request whose path is sent byte for byte, as no browser would: nothing resolves or encodes it on the way. */
export const raw = (
  path: string,
  {
    method = "GET",
    headers = {},
    chunks,
    origin = stack().origin,
  }: { method?: string; headers?: Record<string, string>; chunks?: Iterable<Buffer>; origin?: string } = {},
): Promise<RawAnswer> =>
  new Promise((done, fail) => {
    const { hostname, port } = new URL(origin);
    let sent = 0;
    let answered = false;
    const asked = request({ hostname, port, path, method, headers: { origin, ...headers }, agent: false }, (response) => {
      answered = true;
      const parts: Buffer[] = [];
      const end = () => done({ status: response.statusCode!, headers: response.headers, body: Buffer.concat(parts).toString("utf8"), sent });
      response.on("data", (part: Buffer) => parts.push(part));
      response.on("end", end);
      response.on("error", end);
    });
    asked.on("error", (error) => !answered && fail(error));
    const push = async () => {
      for (const chunk of chunks ?? []) {
        if (answered || asked.destroyed) return;
        sent += chunk.length;
        if (asked.write(chunk)) continue;
        const waited = new AbortController();
        const turn = (event: string) => once(asked, event, { signal: waited.signal }).catch(() => undefined);
        await Promise.race([turn("drain"), turn("close")]);
        waited.abort();
      }
      asked.end();
    };
    void push();
  });

/** So many megabytes, a piece at a time. */
export function* megabytes(n: number): Generator<Buffer> {
  const piece = Buffer.alloc(64 * 1024, 120);
  for (let i = 0; i < n * 16; i += 1) yield piece;
}
