import { Refusal } from "../refusal";
import { Readable } from "node:stream";
import type { ReadableStream } from "node:stream/web";

/** The bytes of a request as they come in; none where it has no body. */
export const bodyOf = ({ body }: Request): Readable => (body ? Readable.fromWeb(body as unknown as ReadableStream) : Readable.from([]));

/** What a JSON document says. Refuses what is none, and the NUL character, which no column of text can hold. */
export const parseJson = (text: string): unknown => {
  if (/\\u0000|\0/.test(text)) throw new Refusal({ code: "not_text" });
  try {
    return text ? JSON.parse(text) : {};
  } catch {
    throw new Refusal({ code: "not_json" });
  }
};
