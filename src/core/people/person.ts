import { z } from "zod";

/** An address as it is compared and hashed: trimmed and lower-cased. */
export const normaliseEmail = (typed: string): string => typed.trim().toLowerCase();

export const email = z
  .string()
  .transform(normaliseEmail)
  .pipe(z.email("This does not look like an email address. Is something missing?").max(254, "Too long for an email address."));
export const firstName = z.string().trim().min(1, "What may we call you?").max(80, "80 characters at most.");

/** Countries offered at the checkout (ISO 3166-1 alpha-2), with their English names. */
export const countries: Record<string, string> = {
  AT: "Austria",
  BE: "Belgium",
  CA: "Canada",
  DE: "Germany",
  DK: "Denmark",
  ES: "Spain",
  FR: "France",
  GB: "United Kingdom",
  IE: "Ireland",
  IT: "Italy",
  NL: "Netherlands",
  NO: "Norway",
  PT: "Portugal",
  SE: "Sweden",
  US: "United States",
};
export const country = z.string().refine((code) => code in countries, "Choose your country: the tax depends on it.");

/** What an opt-in form sends. `website` is a field that people never see: whoever fills it is a program. */
export const optInRequest = z.object({
  firstName,
  email,
  consent: z.literal("yes", "Tick the box if you want the letters; without it we may not write to you."),
  website: z.string().max(0).optional(),
});
export type OptInRequest = z.infer<typeof optInRequest>;
