import { z } from "zod";

const refusal = z.object({ code: z.string(), message: z.string(), fields: z.record(z.string(), z.string()).default({}) });
export type Answer<T> = { ok: true; value: T } | { ok: false; code: string; message: string; fields: Record<string, string> };

/** Posts JSON (or a file's bytes) to an endpoint of the desk and reads its answer, or its refusal, as data. */
export const send = async <T>(address: string, body: unknown, answer: z.ZodType<T>): Promise<Answer<T>> => {
  const isFile = body instanceof Blob;
  try {
    const response = await fetch(address, {
      method: "POST",
      headers: { "content-type": isFile ? "application/octet-stream" : "application/json" },
      body: isFile ? body : JSON.stringify(body),
    });
    const content: unknown = await response.json();
    return response.ok ? { ok: true, value: answer.parse(content) } : { ok: false, ...refusal.parse(content) };
  } catch {
    return { ok: false, code: "offline", message: "The server does not answer. What you typed is still here; try again.", fields: {} };
  }
};

/** Reads an endpoint of the desk, as of the instant that the screen shows. Throws with the refusal's words. */
export const read = async <T>(address: string, answer: z.ZodType<T>): Promise<T> => {
  const url = new URL(address, location.href);
  const at = new URLSearchParams(location.search).get("at");
  if (at) url.searchParams.set("at", at);
  const response = await fetch(url);
  const content: unknown = await response.json();
  if (!response.ok) throw new Error(refusal.parse(content).message);
  return answer.parse(content);
};
