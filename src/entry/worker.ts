// The worker alone, beside the development server.
import { subscribeAll } from "../server/reactions";
import { Worker } from "../jobs/worker";
import { theApp } from "../server/platform";

const app = await theApp();
subscribeAll();
const worker = new Worker(app);
await worker.start();
const stop = async () => {
  await worker.stop();
  await app.stop();
  process.exit(0);
};
process.on("SIGINT", () => void stop());
process.on("SIGTERM", () => void stop());
