import { z } from "zod";
import { fault, type Fault } from "../words";

/** How a field of the vendor's own is filled: any text, one of some choices, or a tick. The questions of a form know the same kinds. */
export const fieldKinds = ["text", "choice", "tick"] as const;
const choice = z.string().trim().min(1, fault("words_missing")).max(120);

/** A field of the vendor's own that every person's record has. It is known by its name: a form's question of that name, or a column of a file, fills it. */
export const personField = z
  .object({
    name: z.string().trim().min(1, fault("words_missing")).max(200),
    kind: z.enum(fieldKinds),
    choices: z.array(choice).max(60),
  })
  .refine(({ kind, choices }) => kind !== "choice" || choices.length > 0, { path: ["choices"], message: fault("words_missing") });
export type PersonField = z.infer<typeof personField>;

/** The longest text of a field. */
export const longestAnswer = 2_000;

/** What is wrong with what a field is filled with; nothing with what it lacks, and with what no field is declared for. */
export const answerFault = (field: PersonField | undefined, answer: string): Fault | undefined => {
  if (answer === "") return undefined;
  if (answer.length > longestAnswer) return { code: "too_long", most: longestAnswer };
  if (field?.kind === "choice" && !field.choices.includes(answer)) return { code: "not_of_the_list" };
  if (field?.kind === "tick" && answer !== "yes") return { code: "not_of_the_list" };
  return undefined;
};
