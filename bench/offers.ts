// What the economics of a path cost: the exact answer, and simulated buyers in a worker thread.
import { Worker } from "node:worker_threads";
import { economicsOf, insertBefore, pathEnd, emptyPath, simulate, type EconomicsInput, type OfferPath } from "../src/core/offers";
import { median } from "./statistics";

/** Twelve offers one after the other: every answer is another order value. */
const twelve = (): EconomicsInput => {
  const path = Array.from({ length: 12 }, (_, n) => `s${n}`).reduce<OfferPath>(
    (before, id) => insertBefore(before, pathEnd, { id, kind: "offer", productId: id, pageId: id, sure: false }),
    emptyPath,
  );
  const economics = (pays: number) => ({ pays, keeps: pays * 0.6 });
  return {
    path,
    front: economics(14_900),
    checkoutFee: 25,
    conversion: 0.04,
    bumps: [{ id: "bump", take: 0.3, economics: economics(1_700) }],
    steps: Object.fromEntries(path.steps.map(({ id }, n) => [id, { take: 0.1 + n / 50, economics: economics(1_000 + 2 ** n) }])),
  };
};

if (process.env["BENCH_WORKER"] === "1") {
  const { parentPort } = await import("node:worker_threads");
  const began = performance.now();
  simulate(twelve(), 1_000_000, 7);
  parentPort!.postMessage(performance.now() - began);
}

export const pathEconomics = async (): Promise<void> => {
  const input = twelve();
  for (let n = 0; n < 20; n += 1) economicsOf(input);
  const taken = Array.from({ length: 41 }, () => {
    const began = performance.now();
    economicsOf(input);
    return performance.now() - began;
  });
  // A worker of this Node.js does not take over the loader of TypeScript: it is registered there.
  const begin = `import("tsx/esm/api").then(({ register }) => { register(); return import(require("node:worker_threads").workerData); })`;
  const worker = new Worker(begin, { eval: true, workerData: import.meta.url, env: { ...process.env, BENCH_WORKER: "1" } });
  const simulated = await new Promise<number>((done, fail) => worker.once("message", done).once("error", fail));
  await worker.terminate();
  console.log(`\nA path of twelve offers with ${economicsOf(input).distribution.length} order values`);
  console.log(
    `  exact ${median(taken).toFixed(2)} ms, median of 41 (goal 5 ms); a million simulated buyers in a worker ${simulated.toFixed(0)} ms (goal 1 s)`,
  );
};
