import { defineEntity, p, type InferEntity } from "@mikro-orm/core";
import { at, count } from "../columns";

export const Session = defineEntity({
  name: "Session",
  tableName: "session",
  properties: {
    tokenHash: p.text().primary(),
    id: p.uuid(),
    kind: p.text().$type<"desk" | "partner" | "buyer">(),
    subjectId: p.uuid(),
    createdAt: at(),
    expiresAt: at(),
    /** When a request last came with it, to some minutes. */
    seenAt: at(),
    /** The browser and its system, in words. */
    device: p.text().default(""),
  },
});
/** A link that works once, by the hash of its token. */
export const UsedLink = defineEntity({
  name: "UsedLink",
  tableName: "used_link",
  properties: {
    hash: p.text().primary(),
    usedAt: at(),
    expiresAt: at(),
  },
});
/** Tries of one kind from one address or for one account, within a window that begins at `fromAt`. */
export const RateLimit = defineEntity({
  name: "RateLimit",
  tableName: "rate_limit",
  properties: {
    key: p.text().primary(),
    fromAt: at(),
    tries: p.integer(),
  },
});
/** A signed notice as it came, and what came of it. */
export const Notice = defineEntity({
  name: "Notice",
  tableName: "notice",
  properties: {
    id: p.uuid().primary(),
    source: p.text(),
    messageId: p.text(),
    body: p.text(),
    receivedAt: at(),
    appliedAt: at().nullable(),
    outcome: p.text().nullable(),
  },
});
/** Work that follows a change. */
export const OutboxWork = defineEntity({
  name: "OutboxWork",
  tableName: "outbox",
  properties: {
    id: count().primary().autoincrement(),
    topic: p.text(),
    payload: p.json().$type<{ id: string }>(),
    key: p.text().nullable(),
    dueAt: at(),
    tries: p.integer().default(0),
    failedBecause: p.text().nullable(),
    firstDueAt: at().nullable(),
  },
});
/** A worker that lives, by its last heartbeat. */
export const WorkerBeat = defineEntity({
  name: "WorkerBeat",
  tableName: "worker",
  properties: {
    id: p.uuid().primary(),
    startedAt: at().defaultRaw("now()"),
    beatAt: at().defaultRaw("now()"),
  },
});
/** How far the clock is shifted, where it may be. */
export const TestClock = defineEntity({
  name: "TestClock",
  tableName: "test_clock",
  properties: {
    single: p.boolean().primary().default(true),
    offsetMs: count(),
  },
});

export type Session = InferEntity<typeof Session>;
export type UsedLink = InferEntity<typeof UsedLink>;
export type RateLimit = InferEntity<typeof RateLimit>;
export type Notice = InferEntity<typeof Notice>;
export type OutboxWork = InferEntity<typeof OutboxWork>;
export type WorkerBeat = InferEntity<typeof WorkerBeat>;
export type TestClock = InferEntity<typeof TestClock>;
