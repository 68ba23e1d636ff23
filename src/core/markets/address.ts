import { z } from "zod";

/** An address that a marketplace names and people follow: of the web, and no program in disguise. */
export const webAddress = z.url({ protocol: /^https?$/ }).max(2_000);
