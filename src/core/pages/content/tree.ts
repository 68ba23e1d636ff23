import { leavesOf, pageLeaves, type Tree } from "./content";
import type { Block, BlockOf, LeafBlock, Section } from "./blocks";
import type { Target } from "./target";

/** Where a block stands: in a section, or in a column of a block of it. */
export interface Place {
  section: string;
  /** The columns block, and which of its columns. */
  column?: { block: string; index: number };
  index: number;
}

const mapSection = <T extends Tree>(content: T, id: string, change: (section: Section) => Section): T => ({
  ...content,
  sections: content.sections.map((one) => (one.id === id ? change(one) : one)),
});

/** A block with its place; undefined where the page has none of that id. */
export const findBlock = (content: Tree, id: string): { block: Block; place: Place } | undefined => {
  for (const { id: section, blocks } of content.sections) {
    for (const [index, block] of blocks.entries()) {
      if (block.id === id) return { block, place: { section, index } };
      if (block.type !== "columns") continue;
      for (const [column, inside] of block.columns.entries()) {
        const at = inside.findIndex((leaf) => leaf.id === id);
        if (at >= 0) return { block: inside[at]!, place: { section, column: { block: block.id, index: column }, index: at } };
      }
    }
  }
  return undefined;
};

const changeList = <T extends Tree>(content: T, place: Place, change: <B extends Block>(blocks: B[]) => B[]): T =>
  mapSection(content, place.section, (section) => {
    const { column } = place;
    if (!column) return { ...section, blocks: change(section.blocks) };
    return {
      ...section,
      blocks: section.blocks.map((block) =>
        block.id === column.block && block.type === "columns"
          ? { ...block, columns: block.columns.map((inside, index) => (index === column.index ? change(inside) : inside)) }
          : block,
      ),
    };
  });

/** Puts a block at a place. Columns do not stand in columns: there the page stays as it was. */
export const insertBlock = <T extends Tree>(content: T, place: Place, block: Block): T =>
  place.column && block.type === "columns" ? content : changeList(content, place, (blocks) => blocks.toSpliced(place.index, 0, block as never));

/** Takes a block away, with all that stands in it. */
export const removeBlock = <T extends Tree>(content: T, id: string): T => {
  const found = findBlock(content, id);
  return found ? changeList(content, found.place, (blocks) => blocks.filter((block) => block.id !== id)) : content;
};

/** Changes a block in its place. */
export const updateBlock = <T extends Tree>(content: T, id: string, change: (block: Block) => Block): T => {
  const found = findBlock(content, id);
  if (!found) return content;
  return changeList(content, found.place, <B extends Block>(blocks: B[]) =>
    blocks.map((block): B => (block.id === id ? (change(block) as B) : block)),
  );
};

const sameList = (a: Place, b: Place) => a.section === b.section && a.column?.block === b.column?.block && a.column?.index === b.column?.index;

/** Moves a block to a place, counted as the page stands before the move. A place that cannot take it changes nothing. */
export const moveBlock = <T extends Tree>(content: T, id: string, to: Place): T => {
  const found = findBlock(content, id);
  if (!found || (found.block.type === "columns" && to.column)) return content;
  const shift = sameList(found.place, to) && found.place.index < to.index ? 1 : 0;
  const without = removeBlock(content, id);
  const moved = insertBlock(without, { ...to, index: to.index - shift }, found.block);
  return moved === without ? content : moved;
};

/** One step up (-1) or down (1) in reading order: past its neighbour, and at the edge of a section into the next one. */
export const stepBlock = <T extends Tree>(content: T, id: string, by: -1 | 1): T => {
  const found = findBlock(content, id);
  if (!found) return content;
  const { place } = found;
  const section = content.sections.findIndex((one) => one.id === place.section);
  const list = listAt(content, place);
  const to = by === 1 ? place.index + 2 : place.index - 1;
  if (to >= 0 && place.index + by < list.length) return moveBlock(content, id, { ...place, index: to });
  if (place.column) {
    const columns = findBlock(content, place.column.block)!;
    return moveBlock(content, id, { ...columns.place, index: columns.place.index + (by === 1 ? 1 : 0) });
  }
  const neighbour = content.sections[section + by];
  return neighbour ? moveBlock(content, id, { section: neighbour.id, index: by === 1 ? 0 : neighbour.blocks.length }) : content;
};

/** The blocks of the list that a place is in. */
export const listAt = (content: Tree, place: Place): readonly Block[] => {
  const section = content.sections.find(({ id }) => id === place.section);
  if (!section) return [];
  if (!place.column) return section.blocks;
  const columns = section.blocks.find(({ id }) => id === place.column!.block);
  return columns?.type === "columns" ? (columns.columns[place.column.index] ?? []) : [];
};

/** Copies a block with new ids for it and all in it. */
export const copyBlock = (block: Block, newId: () => string): Block => {
  const leaf = (one: LeafBlock): LeafBlock =>
    one.type === "form" ? { ...one, id: newId(), fields: one.fields.map((field) => ({ ...field })) } : { ...one, id: newId() };
  return block.type === "columns" ? { ...block, id: newId(), columns: block.columns.map((inside) => inside.map(leaf)) } : leaf(block);
};

/** Puts a copy of a block right below it. */
export const duplicateBlock = <T extends Tree>(content: T, id: string, newId: () => string): T => {
  const found = findBlock(content, id);
  return found ? insertBlock(content, { ...found.place, index: found.place.index + 1 }, copyBlock(found.block, newId)) : content;
};

/** Puts a section after another; at the top where none is named. */
export const insertSection = <T extends Tree>(content: T, after: string | undefined, fresh: Section): T => {
  const at = after === undefined ? 0 : content.sections.findIndex(({ id }) => id === after) + 1;
  return { ...content, sections: content.sections.toSpliced(at, 0, fresh) };
};

export const removeSection = <T extends Tree>(content: T, id: string): T => ({
  ...content,
  sections: content.sections.filter((one) => one.id !== id),
});

export const updateSection = mapSection;

/** Moves a section past its neighbour. At the end of the page it stays. */
export const stepSection = <T extends Tree>(content: T, id: string, by: -1 | 1): T => {
  const from = content.sections.findIndex((one) => one.id === id);
  const to = from + by;
  if (from < 0 || to < 0 || to >= content.sections.length) return content;
  const sections = [...content.sections];
  [sections[from], sections[to]] = [sections[to]!, sections[from]!];
  return { ...content, sections };
};

/** The same page with every block that stands for itself changed, those inside columns in their place. */
export const mapLeaves = <T extends Tree>(content: T, change: (leaf: LeafBlock) => LeafBlock): T => ({
  ...content,
  sections: content.sections.map((one) => ({
    ...one,
    blocks: one.blocks.map((block): Block =>
      block.type === "columns" ? { ...block, columns: block.columns.map((inside) => inside.map(change)) } : change(block),
    ),
  })),
});

/** Where the buttons and posters of a page lead. */
export const targetsOf = (content: Tree): { block: LeafBlock; target: Target }[] =>
  content.sections
    .flatMap(({ blocks }) => leavesOf(blocks))
    .flatMap((block): { block: LeafBlock; target: Target }[] => {
      if (block.type === "button" || block.type === "price") return [{ block, target: block.target }];
      if (block.type === "form") return block.then ? [{ block, target: block.then }] : [];
      return block.type === "video" && block.press ? [{ block, target: block.press }] : [];
    });

/** The same page with ids of its own throughout; buttons go on opening the same forms. */
export const withNewIds = <C extends Tree>(content: C, newId: () => string): C => {
  const ids = new Map<string, string>();
  const renew = (old: string) => {
    const fresh = newId();
    ids.set(old, fresh);
    return fresh;
  };
  const sections = content.sections.map((one) => ({
    ...one,
    id: renew(one.id),
    blocks: one.blocks.map((block): Block => {
      if (block.type !== "columns") return { ...block, id: renew(block.id) };
      return { ...block, id: renew(block.id), columns: block.columns.map((inside) => inside.map((leaf) => ({ ...leaf, id: renew(leaf.id) }))) };
    }),
  }));
  const led = (to: Target): Target => (to.to === "form" ? { to: "form", block: ids.get(to.block) ?? to.block } : to);
  const relink = (leaf: LeafBlock): LeafBlock => {
    if (leaf.type === "button" || leaf.type === "price") return { ...leaf, target: led(leaf.target) };
    if (leaf.type === "form" && leaf.then) return { ...leaf, then: led(leaf.then) };
    return leaf.type === "video" && leaf.press ? { ...leaf, press: led(leaf.press) } : leaf;
  };
  return mapLeaves({ ...content, sections }, relink);
};

/** The form by which people register for a live session: an opt-in like any other. */
export const liveForm = ({ id, hide, space, heading, register, note, double }: BlockOf<"live">): BlockOf<"form"> => ({
  id,
  hide,
  space,
  heading,
  note,
  double,
  type: "form",
  over: false,
  button: register,
  consent: "",
  checkPage: "",
  confirmedPage: "",
  then: null,
  gift: null,
  fields: [{ id: "first", is: "firstName", label: "First name", required: true, kind: "text", choices: [] }],
});

/** The forms of a page, those of live sessions included. */
export const formsOf = (content: Tree): BlockOf<"form">[] =>
  pageLeaves(content).flatMap((leaf) => (leaf.type === "form" ? [leaf] : leaf.type === "live" ? [liveForm(leaf)] : []));

/** The pictures and files that a page shows. */
export const mediaOf = (content: Tree & { picture?: string | null }): string[] => {
  const ids = pageLeaves(content).flatMap((block) => {
    if (block.type === "picture" || block.type === "testimonial" || block.type === "bump" || block.type === "addition" || block.type === "cross")
      return [block.media];
    if (block.type === "form") return [block.gift];
    if (block.type === "download") return [block.media];
    if (block.type === "live") return [block.media, block.captions];
    return block.type === "video" ? [block.media, block.poster, block.captions] : [];
  });
  return [...new Set([...ids, content.picture ?? null].filter((id): id is string => id !== null))];
};
