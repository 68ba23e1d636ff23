import { edgeOfLog } from "../store/events/partitions";
import { rebuildFigures } from "../store/events/rebuild";
import { closeOrm, migrate, orm } from "../store/orm";

const url = process.env["DATABASE_URL"];
if (!url) throw new Error("DATABASE_URL is not set; `npm run rebuild` sets it.");
await migrate(url);
const em = (await orm(url)).em.fork();
const began = performance.now();
const edge = await edgeOfLog(em);
await rebuildFigures(em, edge);
const from = edge.getTime() === 0 ? "the whole log" : `the log since ${edge.toISOString().slice(0, 10)}`;
console.log(`ink bell · roll-ups and counters are made anew from ${from} (${((performance.now() - began) / 1000).toFixed(1)} s)`);
await closeOrm();
