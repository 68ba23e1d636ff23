import type { EntityManager } from "../../store/orm";
import { mediaFile } from "./media";

const types: Record<string, string> = {
  webp: "image/webp",
  avif: "image/avif",
  mp4: "video/mp4",
  webm: "video/webm",
  vtt: "text/vtt",
  pdf: "application/pdf",
  zip: "application/zip",
};

/** An uploaded picture or film. Its name holds the hash of its bytes, so it may be kept for ever; films answer ranges (RFC 9110 §14). */
export const answerMedia = async (em: EntityManager, name: string, request: Headers): Promise<Response> => {
  const type = types[name.split(".").pop() ?? ""];
  const body = type && (await mediaFile(em, name));
  if (!body) return new Response(null, { status: 404, headers: { "cache-control": "no-store" } });
  const headers: Record<string, string> = {
    "content-type": type,
    "cache-control": "public, max-age=31536000, immutable",
    etag: `"${name}"`,
    "accept-ranges": "bytes",
    ...(name.endsWith(".pdf") || name.endsWith(".zip") ? { "content-disposition": "attachment" } : {}),
  };
  if (request.get("if-none-match") === headers["etag"]) return new Response(null, { status: 304, headers });
  const [, first = "", last = ""] = /^bytes=(\d*)-(\d*)$/.exec(request.get("range") ?? "") ?? [];
  if (!first && !last) return new Response(new Uint8Array(body), { headers: { ...headers, "content-length": String(body.length) } });
  const from = first ? Number(first) : Math.max(0, body.length - Number(last));
  const to = first && last ? Math.min(Number(last), body.length - 1) : body.length - 1;
  if (from > to || from >= body.length) return new Response(null, { status: 416, headers: { "content-range": `bytes */${body.length}` } });
  return new Response(new Uint8Array(body.subarray(from, to + 1)), {
    status: 206,
    headers: { ...headers, "content-length": String(to - from + 1), "content-range": `bytes ${from}-${to}/${body.length}` },
  });
};
