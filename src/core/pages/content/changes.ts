import type { Block, Section } from "./blocks";
import { blockKinds } from "./blockKinds";
import type { PageContent } from "./content";

/** One thing that differs between two states of a page. */
export interface PageChange {
  what: "added" | "removed" | "changed" | "moved";
  /** What it is about: a block's name, or a part of the page. */
  name: string;
  /** The block or section, where there is one. */
  id?: string;
}

interface Flat {
  block: Block;
  /** The list it stands in: its section, or a column. */
  list: string;
}

const flat = (sections: Section[]): Map<string, Flat> => {
  const all = new Map<string, Flat>();
  for (const { id, blocks } of sections) {
    for (const block of blocks) {
      all.set(block.id, { block, list: id });
      if (block.type === "columns")
        block.columns.forEach((inside, index) => inside.forEach((leaf) => all.set(leaf.id, { block: leaf, list: `${block.id}.${index}` })));
    }
  }
  return all;
};

// Key order does not matter: both came through the same schema.
const sorted = (_: string, value: unknown): unknown =>
  typeof value === "object" && value !== null && !Array.isArray(value)
    ? Object.fromEntries(Object.entries(value).sort(([a], [b]) => (a < b ? -1 : 1)))
    : value;
// What comes back from the database has its keys in another order.
const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b) || JSON.stringify(a, sorted) === JSON.stringify(b, sorted);

/** Whether two states of a page say the same. */
export const samePage = (a: PageContent, b: PageContent): boolean => same(a, b);
/** What of a block is its own: a columns block is not changed by what stands in it. */
const own = (block: Block) => (block.type === "columns" ? { ...block, columns: block.columns.length } : block);
const ownOfSection = ({ ground, width, space }: Section) => ({ ground, width, space });

/** Ids that do not lie on the longest run that kept its order: those are the ones that moved. */
const movedIds = (before: string[], after: string[]): Set<string> => {
  const rank = new Map(before.map((id, index) => [id, index]));
  const kept = after.filter((id) => rank.has(id));
  // Longest increasing run of the old ranks, in n log n (patience sorting).
  const tails: number[] = [];
  const previous: number[] = [];
  const ranks = kept.map((id) => rank.get(id)!);
  ranks.forEach((value, index) => {
    let [low, high] = [0, tails.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (ranks[tails[middle]!]! < value) low = middle + 1;
      else high = middle;
    }
    previous[index] = low > 0 ? tails[low - 1]! : -1;
    tails[low] = index;
  });
  const stays = new Set<string>();
  for (let at = tails.at(-1) ?? -1; at >= 0; at = previous[at]!) stays.add(kept[at]!);
  return new Set(kept.filter((id) => !stays.has(id)));
};

/** What publishing `after` would change for those who see `before`, in reading order. */
export const changesBetween = (before: PageContent, after: PageContent): PageChange[] => {
  const [was, is] = [flat(before.sections), flat(after.sections)];
  const moved = movedIds([...was.keys()], [...is.keys()]);
  const changes: PageChange[] = [];
  if (before.title !== after.title || before.description !== after.description || before.picture !== after.picture)
    changes.push({ what: "changed", name: "Words for searches and shared links" });
  if (!same(before.look, after.look)) changes.push({ what: "changed", name: "Look" });
  const sectionsBefore = new Map(before.sections.map((one) => [one.id, one]));
  for (const [index, one] of after.sections.entries()) {
    const old = sectionsBefore.get(one.id);
    if (!old) changes.push({ what: "added", name: `Section ${index + 1}`, id: one.id });
    else if (!same(ownOfSection(old), ownOfSection(one))) changes.push({ what: "changed", name: `Section ${index + 1}`, id: one.id });
  }
  for (const [id, { block, list }] of is) {
    const old = was.get(id);
    const { name } = blockKinds[block.type];
    if (!old) changes.push({ what: "added", name, id });
    else {
      if (!same(own(old.block), own(block))) changes.push({ what: "changed", name, id });
      if (moved.has(id) || old.list !== list) changes.push({ what: "moved", name, id });
    }
  }
  for (const [id, { block }] of was) if (!is.has(id)) changes.push({ what: "removed", name: blockKinds[block.type].name, id });
  const gone = before.sections.filter(({ id }) => !after.sections.some((one) => one.id === id)).length;
  for (let n = 0; n < gone; n += 1) changes.push({ what: "removed", name: "Section" });
  // Sections that changed places move no block out of its list, so they are told by themselves.
  if (
    moved.size === 0 &&
    movedIds(
      [...sectionsBefore.keys()],
      after.sections.map(({ id }) => id),
    ).size > 0
  )
    changes.push({ what: "moved", name: "Sections" });
  return changes;
};
