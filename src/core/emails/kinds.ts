/** What each kind of email carries from the moment it is queued to the moment it is made. */
export interface EmailData {
  /** Asks whether an address is right. */
  confirm: { optInId: string };
  /** Answers an opt-in. */
  welcome: { optInId?: string };
  /** An order, or one line of it that was added later. */
  receipt: { orderId: string; lineId?: string };
  /** Asks a lost buyer back. */
  recovery: Record<never, never>;
  /** An email that hangs on a bell, and the opening of the window it belongs to (none with a clock of fixed dates). */
  bell: { email: string; opens?: string };
  /** A step of a sequence, and the moment of its reader's own from which it is counted. */
  step: { sequence: string; step: string; moment: string };
  /** An email that goes once, by its id. */
  once: { email: string };
  /** Opens the library of who asked for it. */
  library: Record<never, never>;
}
export const emailKindNames = [
  "confirm",
  "welcome",
  "receipt",
  "recovery",
  "bell",
  "step",
  "once",
  "library",
] as const satisfies readonly (keyof EmailData)[];
export type EmailKindName = (typeof emailKindNames)[number];

/** Kinds of emails that a launch has any number of, each written by itself; of the others it has one. */
export const hungKinds = ["bell", "step", "once"] as const satisfies readonly EmailKindName[];
export type HungKind = (typeof hungKinds)[number];
export const isHung = (kind: EmailKindName): kind is HungKind => (hungKinds as readonly EmailKindName[]).includes(kind);
/** What the desk calls each kind. */
export const emailKindWords: Record<EmailKindName, string> = {
  confirm: "Confirm an address",
  welcome: "Welcome",
  receipt: "Receipt",
  recovery: "To a lost buyer",
  bell: "On a bell",
  step: "In a sequence",
  once: "One-off",
  library: "Library link",
};
