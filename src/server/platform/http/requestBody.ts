import { Readable } from "node:stream";
import type { ReadableStream } from "node:stream/web";

/** The bytes of a request as they come in; none where it has no body. */
export const bodyOf = ({ body }: Request): Readable => (body ? Readable.fromWeb(body as unknown as ReadableStream) : Readable.from([]));
