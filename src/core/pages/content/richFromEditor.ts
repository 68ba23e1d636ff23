import { richText, type RichInline, type RichNode, type RichText } from "./rich";

/** A node of an editor's document (ProseMirror JSON): whatever it is, it has a type and perhaps words or children. */
export interface EditorNode {
  type?: string;
  text?: string;
  marks?: { type: string; attrs?: Record<string, unknown> }[];
  content?: EditorNode[];
}
type Paragraph = Extract<RichNode, { type: "paragraph" }>;

const words = (nodes: EditorNode[] = []): RichInline[] =>
  nodes.flatMap((one): RichInline[] => {
    if (one.type === "hardBreak") return [{ type: "hardBreak" }];
    return one.text ? [{ type: "text", text: one.text, ...(one.marks?.length ? { marks: one.marks as never } : {}) }] : [];
  });

const paragraphs = (nodes: EditorNode[] = []): Paragraph[] =>
  nodes.flatMap((one) =>
    one.type === "paragraph" || one.type === "heading" ? [{ type: "paragraph" as const, content: words(one.content) }] : paragraphs(one.content),
  );

const isList = ({ type }: EditorNode) => type === "bulletList" || type === "orderedList";

const items = (nodes: EditorNode[] = []): { type: "listItem"; content: Paragraph[] }[] =>
  nodes.flatMap((item) => {
    const [own, nested] = [(item.content ?? []).filter((one) => !isList(one)), (item.content ?? []).filter(isList)];
    return [{ type: "listItem" as const, content: paragraphs(own) }, ...nested.flatMap((list) => items(list.content))];
  });

/** An editor's document as rich text. What rich text does not know is made simple: a list in a list becomes part of it. Undefined where it cannot be kept, such as with a link to no site. */
export const richFromEditor = (doc: EditorNode): RichText | undefined => {
  const content = (doc.content ?? []).map((one): RichNode => {
    if (one.type === "heading") return { type: "heading", content: words(one.content) };
    if (one.type === "bulletList" || one.type === "orderedList") return { type: one.type, content: items(one.content) };
    if (one.type === "blockquote") return { type: "blockquote", content: paragraphs(one.content) };
    return { type: "paragraph", content: words(one.content) };
  });
  return richText.safeParse({ type: "doc", content }).data;
};
