import { simulate, type EconomicsInput } from "../../core/offers";

// Buyers are sent along the path here, so that the screen stays free meanwhile.
addEventListener("message", ({ data }: MessageEvent<{ input: EconomicsInput; buyers: number; seed: number }>) => {
  const began = performance.now();
  const simulation = simulate(data.input, data.buyers, data.seed);
  postMessage({ simulation, ms: performance.now() - began });
});
