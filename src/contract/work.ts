import { z } from "zod";
import { retryRequest } from "../core/work";
import { post } from "./endpoint";

/** Tries waiting work at once; how many pieces of it. */
export const retryWork = post("work/retry", { permission: "work.retry", request: retryRequest, answer: z.object({ n: z.number() }) });
