/** What an email may say of its reader and of the moment at which it goes, with what the desk says of each. */
export const mergeFields = {
  "first name": "as they typed it, once their address is proved",
  launch: "the launch’s name",
  product: "what it sells",
  price: "at the moment at which it goes",
  deadline: "when the doors close for them, in their own zone",
  opening: "when the doors open for them, in their own zone",
  "what comes next": "a sentence: whether the doors are open to them, and until when",
  partner: "who sent them",
  vendor: "your name",
  "order number": "of the order that it is about",
  link: "where the first button leads; for the text part",
} as const;
export type MergeField = keyof typeof mergeFields;
export const mergeFieldNames = Object.keys(mergeFields) as MergeField[];

/** A field in a text, with what stands there for whoever it is empty for. */
export interface FieldPart {
  field: MergeField;
  otherwise: string;
}
export type TextPart = string | FieldPart;

/** `{first name}`, or `{first name, else friend}`. */
const written = /\{([^{},]*)(?:,\s*else\s+([^{}]*))?\}/g;

const isField = (name: string): name is MergeField => name in mergeFields;

/** A text cut at its fields. What looks like a field and is none stays as it was typed. */
export const textParts = (text: string): TextPart[] => {
  const parts: TextPart[] = [];
  let from = 0;
  for (const found of text.matchAll(written)) {
    const name = found[1]!.trim();
    if (!isField(name)) continue;
    if (found.index > from) parts.push(text.slice(from, found.index));
    parts.push({ field: name, otherwise: (found[2] ?? "").trim() });
    from = found.index + found[0].length;
  }
  if (from < text.length) parts.push(text.slice(from));
  return parts;
};

/** A field as it is typed. */
export const fieldText = (field: MergeField, otherwise = ""): string => (otherwise ? `{${field}, else ${otherwise}}` : `{${field}}`);

export type FieldValues = Partial<Record<MergeField, string>>;

/** What stands in place of a field: its value, else what was written for that case. */
export const fieldValue = ({ field, otherwise }: FieldPart, values: FieldValues): string => values[field] || otherwise;

/** A text with its fields filled in. */
export const fillFields = (text: string, values: FieldValues): string =>
  textParts(text)
    .map((part) => (typeof part === "string" ? part : fieldValue(part, values)))
    .join("");

/** A text as the desk lists it: with what is the same for all its readers; what is each reader's own stands as it is written for the others, or as dots. */
export const sharedFields = (text: string, values: FieldValues): string =>
  textParts(text)
    .map((part) => (typeof part === "string" ? part : fieldValue(part, values) || "…"))
    .join("");

/** Braces of a text that are no field: a misspelt name, or a field that bold or a link cuts in two. */
export const brokenFields = (text: string): string[] => {
  const rest = textParts(text)
    .filter((part) => typeof part === "string")
    .join(" ");
  return [...rest.matchAll(/\{[^{}]*\}?|\}/g)].map(([found]) => found.trim());
};

/** Those of some fields for which nothing else was written in a text. */
export const fieldsWithoutElse = (text: string, fields: readonly MergeField[]): MergeField[] =>
  textParts(text).flatMap((part) => (typeof part !== "string" && fields.includes(part.field) && !part.otherwise ? [part.field] : []));
