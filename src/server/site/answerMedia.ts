import { Readable } from "node:stream";
import type { App } from "../platform";
import { mediaFile } from "../pages";

const types: Record<string, string> = {
  jpg: "image/jpeg",
  webp: "image/webp",
  avif: "image/avif",
  mp4: "video/mp4",
  webm: "video/webm",
  vtt: "text/vtt",
  pdf: "application/pdf",
  zip: "application/zip",
};

/** The bytes that a `Range` header asks for, both ends included; undefined for all of them, "none" where there are no such bytes. */
export const rangeOf = (header: string | null, bytes: number): { from: number; to: number } | "none" | undefined => {
  // Several ranges at once are answered with the whole, as the standard allows.
  const [, first = "", last = ""] = /^bytes=(\d*)-(\d*)$/.exec(header ?? "") ?? [];
  if (!first && !last) return undefined;
  const from = first ? Number(first) : Math.max(0, bytes - Number(last));
  const to = first && last ? Math.min(Number(last), bytes - 1) : bytes - 1;
  return from > to || from >= bytes ? "none" : { from, to };
};

/** An uploaded picture or film, sent as it is read. Its name holds the hash of its bytes, so it may be kept for ever; films answer ranges (RFC 9110 §14). */
export const answerMedia = async (app: App, name: string, request: Pick<Request, "method" | "headers">): Promise<Response> => {
  const type = types[name.split(".").pop() ?? ""];
  const file = type && (await mediaFile(app.files, app.fork(), name));
  if (!file) return new Response(null, { status: 404, headers: { "cache-control": "no-store" } });
  const headers: Record<string, string> = {
    "content-type": type,
    "cache-control": "public, max-age=31536000, immutable",
    etag: `"${name}"`,
    "accept-ranges": "bytes",
    ...(name.endsWith(".pdf") || name.endsWith(".zip") ? { "content-disposition": "attachment" } : {}),
  };
  if (request.headers.get("if-none-match") === headers["etag"]) return new Response(null, { status: 304, headers });
  const range = rangeOf(request.headers.get("range"), file.bytes);
  if (range === "none") return new Response(null, { status: 416, headers: { "content-range": `bytes */${file.bytes}` } });
  const body = request.method === "HEAD" ? null : (Readable.toWeb(app.files.read(file.sha256, range)) as unknown as BodyInit);
  if (!range) return new Response(body, { headers: { ...headers, "content-length": String(file.bytes) } });
  const { from, to } = range;
  return new Response(body, {
    status: 206,
    headers: { ...headers, "content-length": String(to - from + 1), "content-range": `bytes ${from}-${to}/${file.bytes}` },
  });
};
