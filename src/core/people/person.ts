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

/** A field that an opt-in form asks beside the address. */
interface AskedField {
  id: string;
  is: "firstName" | "lastName" | "phone" | "own";
  label: string;
  required: boolean;
  kind: "text" | "choice" | "tick";
  choices: string[];
}

/** What an opt-in form sends: the address, what else it asks, and the tick. */
export interface OptInRequest {
  email: string;
  firstName?: string;
  lastName?: string;
  phone?: string;
  /** Answers to the vendor's own questions, by their labels. */
  answers: Record<string, string>;
  /** A field that people never see: whoever fills it is a program. */
  website?: string;
}

const typed = z.string().trim().max(254, "254 characters at most.").optional().default("");

/** Reads what an opt-in form with these fields sends; every objection stands at its field. */
export const optInRequest = (fields: AskedField[]): z.ZodType<OptInRequest> =>
  z
    .object({
      email,
      consent: z.literal("yes", "Tick the box if you want the letters; without it we may not write to you."),
      website: z.string().optional(),
    })
    .and(z.record(z.string(), z.unknown()))
    .transform((sent, context): OptInRequest => {
      const read: OptInRequest = { email: sent.email, answers: {}, website: sent.website };
      for (const field of fields) {
        const name = field.is === "own" ? `own_${field.id}` : field.is;
        const object = (message: string) => context.addIssue({ code: "custom", path: [name], message });
        const value = typed.safeParse(sent[name]);
        if (!value.success) object("254 characters at most.");
        else if (!value.data) {
          if (field.required) object(field.is === "firstName" ? "What may we call you?" : "This is needed.");
        } else if (field.is === "own") {
          if (field.kind === "choice" && !field.choices.includes(value.data)) object("Choose one of the list.");
          else read.answers[field.label] = value.data;
        } else if (field.is === "phone" && !/^\+?[\d ()./-]{6,24}$/.test(value.data))
          object("Digits, with the country's code in front, such as +351 912 345 678.");
        else read[field.is] = value.data;
      }
      return read;
    });
