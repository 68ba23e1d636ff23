import fc from "fast-check";
import {
  blockKinds,
  newBlock,
  newLeaf,
  type Block,
  type BlockType,
  type LeafBlock,
  type PageContent,
  type RichText,
  type Section,
} from "../../src/core/pages";

const leafTypes = (Object.keys(blockKinds) as BlockType[]).filter((type): type is Exclude<BlockType, "columns"> => type !== "columns");

/** Words as people type them, and as programs attack with them. */
export const anyWords = fc.oneof(
  fc.string({ maxLength: 40 }),
  fc.constantFrom(
    "</main>",
    "<script>alert(1)</script>",
    '" onload="x',
    "<!--hole:form-->",
    "\u00001\u0000",
    "javascript:alert(1)",
    "&amp;",
    "$&",
    "${x}",
  ),
);

const rich: fc.Arbitrary<RichText> = fc
  .array(
    fc.record({
      type: fc.constantFrom("paragraph" as const, "heading" as const),
      content: fc.array(
        fc.record({
          type: fc.constant("text" as const),
          text: anyWords.map((text) => text || "x"),
          marks: fc.subarray([
            { type: "bold" as const },
            { type: "italic" as const },
            { type: "link" as const, attrs: { href: 'https://a.example/?q="<b>' } },
          ]),
        }),
        { maxLength: 3 },
      ),
    }),
    { maxLength: 3 },
  )
  .map((content) => ({
    type: "doc" as const,
    content: content.map((one) => ({ ...one, content: one.content.map(({ marks, ...part }) => (marks.length > 0 ? { ...part, marks } : part)) })),
  }));

/** Every field of words in a block filled with others. */
const withWords = <B extends Block>(block: B, words: string[], text: RichText): B => {
  let n = 0;
  const next = () => words[(n += 1) % words.length]!.slice(0, 38);
  const fill = (value: unknown, key: string): unknown => {
    if (key === "rich") return text;
    if (
      [
        "id",
        "type",
        "hide",
        "space",
        "level",
        "size",
        "shape",
        "look",
        "mark",
        "height",
        "form",
        "is",
        "kind",
        "ratio",
        "target",
        "press",
        "then",
        "gift",
        "double",
        "checkPage",
        "confirmedPage",
        "media",
        "poster",
        "captions",
        "url",
        "scope",
        "launch",
        "product",
      ].includes(key)
    )
      return value;
    if (typeof value === "string") return next();
    if (Array.isArray(value)) return value.map((one) => fill(one, "item"));
    if (typeof value === "object" && value !== null)
      return Object.fromEntries(Object.entries(value).map(([name, inner]) => [name, fill(inner, name)]));
    return value;
  };
  return Object.fromEntries(Object.entries(block).map(([key, value]) => [key, fill(value, key)])) as B;
};

interface Drawn {
  types: BlockType[][];
  inside: Exclude<BlockType, "columns">[];
  words: string[];
  text: RichText;
  ground: Section["ground"][];
  hide: Block["hide"];
}

/** Any page: sections of any blocks, columns with any leaves, with any words in them. */
export const anyContent: fc.Arbitrary<PageContent> = fc
  .record<Drawn>({
    types: fc.array(fc.array(fc.constantFrom(...(Object.keys(blockKinds) as BlockType[])), { maxLength: 5 }), { maxLength: 4 }),
    inside: fc.array(fc.constantFrom(...leafTypes), { maxLength: 4 }),
    words: fc.array(anyWords, { minLength: 1, maxLength: 6 }),
    text: rich,
    ground: fc.array(fc.constantFrom("paper", "sunk", "second", "accent"), { minLength: 1, maxLength: 4 }),
    hide: fc.subarray(["desktop", "tablet", "phone"]),
  })
  .map(({ types, inside, words, text, ground, hide }) => {
    let n = 0;
    const id = () => `x${(n += 1)}`;
    const leaf = (type: Exclude<BlockType, "columns">): LeafBlock => ({ ...withWords(newLeaf(type, id), words, text), hide });
    const block = (type: BlockType): Block =>
      type === "columns"
        ? { ...(newBlock(type, id) as Extract<Block, { type: "columns" }>), columns: [inside.map(leaf), [leaf("text")]] }
        : leaf(type);
    return {
      title: words[0]!.slice(0, 100),
      description: "",
      picture: null,
      look: null,
      sections: types.map((list, index) => ({
        id: id(),
        ground: ground[index % ground.length]!,
        width: "normal",
        space: "normal",
        blocks: list.map(block),
      })),
    };
  });
