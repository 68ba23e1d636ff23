// What a use case does, measured beside the same rows written by hand.
import type pg from "pg";
import { median } from "./statistics";

/** How many pieces of work are done in a round. */
export const pieces = 400;

/** How many pieces of work are done in a second, so many of them at a time; and within how many milliseconds 99 of 100 were. */
export const timed = async (atATime: number, work: (n: number) => Promise<unknown>): Promise<{ perSecond: number; p99: number }> => {
  const began = performance.now();
  const times: number[] = [];
  let next = 0;
  const run = async () => {
    for (let n = next++; n < pieces; n = next++) {
      const from = performance.now();
      await work(n);
      times.push(performance.now() - from);
    }
  };
  await Promise.all(Array.from({ length: atATime }, run));
  times.sort((a, b) => a - b);
  return { perSecond: pieces / ((performance.now() - began) / 1000), p99: times[Math.floor(pieces * 0.99)]! };
};

export const perSecond = async (atATime: number, work: (n: number) => Promise<unknown>): Promise<number> => (await timed(atATime, work)).perSecond;

export type Query = (sql: string, values?: unknown[]) => Promise<unknown>;

export const inTransaction = async (pool: pg.Pool, work: (query: Query) => Promise<void>): Promise<void> => {
  const client = await pool.connect();
  try {
    await client.query("begin");
    await work((sql, values) => client.query(sql, values));
    await client.query("commit");
  } finally {
    client.release();
  }
};

export const report = (title: string, found: [ours: number, hand: number][]): void => {
  console.log(`\n${title}`);
  for (const [ours, hand] of found) console.log(`  app ${ours.toFixed(0)}/s   by hand ${hand.toFixed(0)}/s   ratio ${(ours / hand).toFixed(2)}`);
  console.log(`  median ratio ${median(found.map(([ours, hand]) => ours / hand)).toFixed(2)} (goal 0.50)`);
};
