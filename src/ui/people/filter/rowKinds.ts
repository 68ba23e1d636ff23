import { eventKinds, kindWords, type Condition } from "../../../core/conditions";
import { devices, type EventKind } from "../../../core/events";

/** What a row asks for: something that was done, or something that is known. */
export type RowKind = EventKind | "country" | "source" | "device" | "partner" | "tag" | "answered" | "mayWrite" | "spent";

const known: Record<Exclude<RowKind, EventKind>, string> = {
  tag: "is tagged",
  spent: "spent at least",
  country: "is in",
  source: "came from source",
  device: "came on a",
  partner: "came through partner",
  answered: "answered",
  mayWrite: "may be written to",
};
/** In the words of the sentence that it makes. */
export const rowKindWords: Record<RowKind, string> = { ...kindWords, ...known };
export const rowKinds: readonly RowKind[] = [...eventKinds, ...(Object.keys(known) as (keyof typeof known)[])];

const [firstDevice] = devices;
const empty = { is: "equals", text: "" } as const;
const begun: Record<Exclude<RowKind, EventKind>, Condition> = {
  tag: { tag: "" },
  spent: { spent: { minor: 10_000, currency: "EUR" } },
  country: { country: [] },
  source: { source: empty },
  device: { device: firstDevice },
  partner: { partner: null },
  answered: { answered: { question: "", text: { is: "contains", text: "" } } },
  mayWrite: { mayWrite: true },
};

/** A row of a kind, as it begins: what has to be typed is empty still. */
export const newRow = (kind: RowKind): Condition => (kind in known ? begun[kind as keyof typeof known] : { did: kind as EventKind });

export const kindOfRow = (one: Condition): RowKind => {
  if ("did" in one) return one.did;
  return (Object.keys(known) as (keyof typeof known)[]).find((kind) => kind in one)!;
};

/** What was done on pages, and what was done with a product. */
export const onPages: ReadonlySet<RowKind> = new Set(["visited", "saw_sales", "watched", "opted_in", "commented"]);
export const ofProducts: ReadonlySet<RowKind> = new Set(["began_checkout", "paid", "offered", "offer_accepted", "offer_declined"]);
