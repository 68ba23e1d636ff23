import { readImportRow, type ImportChoices, type ImportFault, type ImportRow } from "../../../core/people";
import { erasedAmong } from "../../../store/people/record/erasePerson";
import { importPart, knownContacts, type FileLine } from "../../../store/people/imports";
import type { EntityManager } from "../../../store/orm";
import type { App } from "../../platform";
import { erasedHash } from "../erasePerson";

export interface JudgedPart {
  n: number;
  good: { line: number; row: ImportRow }[];
  refused: { line: number; cells: string[]; faults: ImportFault[] }[];
}

/** Judges the lines of a part; an address that came before, in this part or an earlier one, is refused. `seen` grows with it. */
const judge = (n: number, lines: readonly FileLine[], choices: ImportChoices, seen: Map<string, number>, asOf: Date): JudgedPart => {
  const part: JudgedPart = { n, good: [], refused: [] };
  for (const [line, cells] of lines) {
    const read = readImportRow(cells, choices, asOf);
    if ("faults" in read) {
      part.refused.push({ line, cells, faults: read.faults });
      continue;
    }
    const before = seen.get(read.row.email);
    if (before === undefined) {
      seen.set(read.row.email, line);
      part.good.push({ line, row: read.row });
    } else {
      const column = choices.columns.findIndex(({ is }) => is === "email");
      part.refused.push({ line, cells, faults: [{ column, fault: { code: "twice_in_file", line: before } }] });
    }
  }
  return part;
};

/** Moves those who asked to be erased to the refused lines, but for who came back by themselves. */
const withoutErased = async (
  app: App,
  em: EntityManager,
  part: JudgedPart,
  lines: readonly FileLine[],
  choices: ImportChoices,
): Promise<JudgedPart> => {
  const hashes = new Map(part.good.map(({ row }) => [row.email, erasedHash(app, row.email)]));
  const erased = await erasedAmong(em, [...hashes.values()]);
  if (erased.size === 0) return part;
  const back = new Set((await knownContacts(em, [...hashes.keys()], false)).map(({ email }) => email));
  const stays = ({ row }: JudgedPart["good"][number]) => !erased.has(hashes.get(row.email)!) || back.has(row.email);
  const cells = new Map(lines);
  const column = choices.columns.findIndex(({ is }) => is === "email");
  const gone = part.good.filter((one) => !stays(one));
  const refused = gone.map(({ line }) => ({ line, cells: cells.get(line)!, faults: [{ column, fault: { code: "erased" as const } }] }));
  return { n: part.n, good: part.good.filter(stays), refused: [...part.refused, ...refused].sort((a, b) => a.line - b.line) };
};

/** The parts of a file as they are judged, one after the other: the same whenever it is gone through. */
export async function* judgedParts(app: App, em: EntityManager, importId: string, choices: ImportChoices, asOf: Date): AsyncGenerator<JudgedPart> {
  const seen = new Map<string, number>();
  for (let n = 0; ; n += 1) {
    const lines = await importPart(em, importId, n);
    if (!lines) return;
    yield await withoutErased(app, em, judge(n, lines, choices, seen, asOf), lines, choices);
  }
}
