/** A half-open span of time, `[opens, closes)`: at the instant `closes` it is over. */
export interface Window {
  opens: Date;
  closes: Date;
}

export type WindowPhase = "before" | "during" | "after";

/** Where an instant stands to a window. */
export const phaseOf = ({ opens, closes }: Window, at: Date): WindowPhase => (at < opens ? "before" : at < closes ? "during" : "after");
