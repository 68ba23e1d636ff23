import { assignArm, withoutVariant } from "../pages";
import { isHung, type EmailKindName } from "./kinds";

export const emailVariants = ["A", "B"] as const;
export type EmailVariant = (typeof emailVariants)[number];

/** The key of the second variant of an email. */
export const variantKey = (key: string): string => `${withoutVariant(key)}~b`;

/** Whether an email of a kind may have a second variant: what somebody asked for or paid for says one thing. */
export const mayVary = (kind: EmailKindName): boolean => isHung(kind) || kind === "welcome" || kind === "recovery";

/** Which variant somebody gets, the same whenever it is asked; where neither has any weight, the first. */
export const emailVariantOf = (email: string, personId: string, weights: Readonly<Record<EmailVariant, number>>): EmailVariant =>
  assignArm(
    `email ${email}`,
    personId,
    emailVariants.map((variant) => ({ variant, weight: weights[variant] })),
  ) === "B"
    ? "B"
    : "A";
