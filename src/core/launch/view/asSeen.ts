import { z } from "zod";
import type { LaunchPlan } from "../plan/launch";
import { windowFor, type Viewer } from "../clock/viewer";

/** Kinds of people as whom a launch can be looked at, besides a person by name. */
export const personKinds = ["new", "subscriber", "clock", "begun", "buyer"] as const;
export type PersonKind = (typeof personKinds)[number];

/** Whose view is shown: everyone's, that of a kind of person (since an instant, where that matters), or a person's by name. */
export type SeenAs = { kind: "everyone" } | { kind: PersonKind; since?: Date } | { kind: "person"; id: string };

const instant = z.iso.datetime({ offset: true }).transform((text) => new Date(text));
const kinds: readonly string[] = personKinds;

/** Reads `as` of an address: `new`, `subscriber@2026-11-20T10:00:00Z`, `clock@…`, `begun`, `buyer`, `person@<id>`. Anything else is everyone. */
export const readSeenAs = (text: string | null | undefined): SeenAs => {
  const [kind = "", detail] = (text ?? "").split("@");
  if (kind === "person" && z.uuid().safeParse(detail).success) return { kind, id: detail! };
  if (!kinds.includes(kind)) return { kind: "everyone" };
  const since = instant.safeParse(detail);
  return { kind: kind as PersonKind, ...(since.success ? { since: since.data } : {}) };
};

/** The `as` of an address that reads back as the same. */
export const writeSeenAs = (seen: SeenAs): string | undefined =>
  seen.kind === "everyone"
    ? undefined
    : seen.kind === "person"
      ? `person@${seen.id}`
      : seen.since
        ? `${seen.kind}@${seen.since.toISOString()}`
        : seen.kind;

/** The view of a screen as the query of an address, without a question mark; empty for now and everyone. */
export const seenQuery = ({ at, as }: { at?: Date; as: SeenAs }): string => {
  const person = writeSeenAs(as);
  return new URLSearchParams({ ...(at ? { at: at.toISOString() } : {}), ...(person ? { as: person } : {}) }).toString();
};

/** Reads `at` of an address; undefined is now. */
export const readSeenAt = (text: string | null | undefined): Date | undefined => {
  const read = instant.safeParse(text ?? "");
  return read.success ? read.data : undefined;
};

/** A made-up person of a kind, as they would stand at an instant. A person by name is looked up instead. */
export const viewerOfKind = (seen: SeenAs, plan: LaunchPlan, at: Date): Viewer => {
  const personal = plan.clock.kind === "personal";
  const since = "since" in seen && seen.since ? seen.since : at;
  const starts = personal && seen.kind !== "everyone" && seen.kind !== "new" ? [since] : undefined;
  if (seen.kind === "subscriber") {
    const byOptIn = plan.clock.kind === "personal" && plan.clock.trigger.on === "opt_in";
    return { subscribedAt: since, starts: byOptIn ? starts : undefined };
  }
  if (seen.kind === "clock") return { starts, subscribedAt: since };
  if (seen.kind === "buyer") return { orderedAt: since, starts, subscribedAt: since };
  if (seen.kind !== "begun") return {};
  // A checkout begun a minute ago, or in the last minute before the bell.
  const window = windowFor(plan, { starts }, at);
  const last = window && at >= window.closes ? window.closes.getTime() : at.getTime();
  return { starts, checkoutBegunAt: "since" in seen && seen.since ? seen.since : new Date(last - 60_000) };
};

/** In words, for the strip and the score. */
export const seenAsWords = (seen: SeenAs, name?: string): string => {
  const words: Record<SeenAs["kind"], string> = {
    everyone: "everyone",
    new: "a new visitor",
    subscriber: "a subscriber",
    clock: "someone whose clock runs",
    begun: "someone at the checkout",
    buyer: "a buyer",
    person: name ?? "one person",
  };
  return words[seen.kind];
};
