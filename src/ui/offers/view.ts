import { z } from "zod";
import type { OffersView } from "../../core/pages";

/** The endpoint answers what the page was sent at first; it is trusted to keep its shape. */
export const offersAnswer = z.custom<OffersView>((value) => typeof value === "object" && value !== null && "path" in value && "figures" in value);

export const percent = (share: number): string => `${(100 * share).toFixed(share > 0 && share < 0.1 ? 1 : 0)} %`;
