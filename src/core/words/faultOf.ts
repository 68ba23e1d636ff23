import type { z } from "zod";
import { isPlainFault, type Fault, type Faults, type PlainFaultCode } from "./catalogue";

/** Names what a schema finds wrong: Zod carries it as the message of its issue, and `faultOf` reads it. */
export const fault = (code: PlainFaultCode): string => code;

/** The same for what is found by a refinement and needs more to be said than its code. */
export const faultIssue = (path: PropertyKey[], found: Fault): { code: "custom"; path: PropertyKey[]; params: { fault: Fault } } => ({
  code: "custom",
  path,
  params: { fault: found },
});

/** What an issue of a schema finds wrong: what the schema names, or what follows from the rule that was broken. */
export const faultOf = (issue: z.core.$ZodIssue): Fault => {
  if (isPlainFault(issue.message)) return { code: issue.message };
  switch (issue.code) {
    case "custom":
      return (issue.params?.["fault"] as Fault | undefined) ?? { code: "unreadable" };
    case "too_small": {
      const least = Number(issue.minimum);
      if (issue.origin === "string") return least <= 1 ? { code: "missing" } : { code: "too_short", least };
      return issue.origin === "array" ? { code: "too_few", least } : { code: "too_low", least: issue.inclusive === false ? least + 1 : least };
    }
    case "too_big": {
      const most = Number(issue.maximum);
      if (issue.origin === "string") return { code: "too_long", most };
      return issue.origin === "array" ? { code: "too_many", most } : { code: "too_high", most };
    }
    case "invalid_type":
      if (issue.expected === "int") return { code: "not_whole" };
      return { code: issue.expected === "number" ? "not_a_number" : "unreadable" };
    case "invalid_format":
      return { code: issue.format === "url" ? "not_an_address" : "unreadable" };
    default:
      return { code: "unreadable" };
  }
};

/** All that a schema finds wrong, by the path of the field. */
export const faultsOf = (error: z.ZodError): Faults => Object.fromEntries(error.issues.map((issue) => [issue.path.join("."), faultOf(issue)]));
