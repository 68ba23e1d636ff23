import { createReadStream } from "node:fs";
import { Readable } from "node:stream";
import Papa from "papaparse";
import type { Incoming } from "../../../outside/fileStore";
import type { FileLine } from "../../../store/people/imports";
import { wrongField } from "../../platform";

const noCsv = () => wrongField("nothing_imported", "file", { code: "file", why: "not_csv" });

/** Whether a file is UTF-8 to its end. What is none of it comes from spreadsheet programs that write Windows-1252. */
const encodingOf = async (path: string): Promise<"utf-8" | "windows-1252"> => {
  const decoder = new TextDecoder("utf-8", { fatal: true });
  try {
    for await (const chunk of createReadStream(path)) decoder.decode(chunk as Buffer, { stream: true });
    decoder.decode();
    return "utf-8";
  } catch {
    return "windows-1252";
  }
};

async function* textOf(path: string, encoding: string): AsyncGenerator<string> {
  const decoder = new TextDecoder(encoding);
  for await (const chunk of createReadStream(path)) yield decoder.decode(chunk as Buffer, { stream: true });
  yield decoder.decode();
}

/** What stands between the cells: of what may, what is found most often among the heads, outside of quoted ones. */
const delimiterOf = async (path: string, encoding: string): Promise<string> => {
  const text = textOf(path, encoding);
  const first = await text.next();
  await text.return(undefined);
  const heads = ((first.done ? "" : first.value).replace(/"(?:[^"]|"")*"/g, "").split(/\r|\n/, 1)[0] ?? "").slice(0, 20_000);
  const counts = [",", ";", "\t", "|"].map((mark) => [mark, heads.split(mark).length] as const);
  return counts.reduce((best, one) => (one[1] > best[1] ? one : best))[0];
};

/** Line breaks inside of a quoted cell. */
const breaksIn = (cells: readonly string[]): number => cells.reduce((n, cell) => n + (cell.match(/\r\n|\r|\n/g)?.length ?? 0), 0);

/** The lines of a CSV file (RFC 4180, or with semicolons or tabs), numbered as an editor numbers them; empty ones are passed over. */
async function* linesOf(path: string, encoding: string): AsyncGenerator<FileLine> {
  const delimiter = await delimiterOf(path, encoding);
  const parsed = Readable.from(textOf(path, encoding)).pipe(Papa.parse(Papa.NODE_STREAM_INPUT, { delimiter, header: false, skipEmptyLines: false }));
  let line = 1;
  for await (const cells of parsed as AsyncIterable<string[]>) {
    if (cells.some((cell) => cell.trim() !== "")) yield [line, cells];
    line += 1 + breaksIn(cells);
  }
}

/** Reads a file of people that was taken in: its encoding, the heads of its columns, and its lines in parts of so many. */
export const readPeopleFile = async (
  { path, bytes, head }: Incoming,
  atOnce: number,
): Promise<{ encoding: string; titles: string[]; parts: AsyncGenerator<FileLine[]> }> => {
  // A sheet that is no text has noughts among its first bytes; a zipped one begins with these letters.
  if (bytes === 0 || head.includes(0) || head.subarray(0, 2).toString("latin1") === "PK") throw noCsv();
  const encoding = await encodingOf(path);
  const lines = linesOf(path, encoding);
  const first = await lines.next();
  if (first.done) throw noCsv();
  async function* parts(): AsyncGenerator<FileLine[]> {
    let part: FileLine[] = [];
    for await (const line of lines) {
      part.push(line);
      if (part.length === atOnce) {
        yield part;
        part = [];
      }
    }
    if (part.length > 0) yield part;
  }
  return { encoding, titles: first.value[1].map((title) => title.trim().slice(0, 120)), parts: parts() };
};
