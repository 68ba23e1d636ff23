import { fork, type ChildProcess } from "node:child_process";
import { Worker } from "../jobs/worker";
import type { App } from "../server/platform";

/** What works in the background for this process. */
export interface Background {
  ready(): boolean;
  stop(): Promise<void>;
}

/** A worker in this very process. */
export const workHere = async (app: App): Promise<Background> => {
  const worker = new Worker(app);
  await worker.start();
  return { ready: () => worker.ready, stop: () => worker.stop() };
};

/** What this process is where another one began it as its worker. */
export const isChild = (): boolean => process.env["INKBELL_CHILD"] === "1" && process.send !== undefined;

/** Works for the process that began this one, until that one ends, however it does. */
export const workForParent = (background: Background, stop: () => Promise<void>): void => {
  process.on("disconnect", () => void stop());
  process.send?.(background.ready() ? "ready" : "starting");
};

/**
 * A worker in a process of its own, with connections of its own: what it does at a bell takes no turn from who reads
 * pages or buys. Begun again where it ends by itself.
 */
export const workBeside = async (app: App): Promise<Background> => {
  let child: ChildProcess | undefined;
  let ready = false;
  let stopping = false;
  const begin = (): Promise<void> =>
    new Promise((done) => {
      child = fork(process.argv[1]!, [], { env: { ...process.env, INKBELL_ROLE: "worker", INKBELL_CHILD: "1" } });
      child.on("message", (said) => {
        ready = said === "ready";
        done();
      });
      child.once("exit", (code) => {
        ready = false;
        if (stopping) return;
        app.log.error({ code }, "the worker ended; it is begun again");
        setTimeout(() => void begin(), 1_000);
      });
    });
  await begin();
  return {
    ready: () => ready,
    async stop() {
      stopping = true;
      if (!child || child.exitCode !== null || child.signalCode !== null) return;
      const gone = new Promise((done) => child!.once("exit", done));
      child.kill("SIGTERM");
      await gone;
    },
  };
};
