import { z } from "zod";
import { fault } from "./faultOf";

/** Why somebody at the desk did something with a buyer's money or goods, in their words. */
export const reason = z.string().trim().min(1, fault("reason_missing")).max(300);
