import Bowser from "bowser";
import { isbot } from "isbot";
import type { Device } from "../../../core/events";

/** What asks for a page, as far as it says so itself. */
export interface VisitorAgent {
  /** A program that reads pages for others: it is nobody's visit. */
  program: boolean;
  device?: Device;
}

const mostKept = 5_000;
const known = new Map<string, VisitorAgent>();
const deviceOf: Record<string, Device> = { mobile: "phone", tablet: "tablet", desktop: "computer" };

const read = (userAgent: string): VisitorAgent => {
  if (isbot(userAgent)) return { program: true };
  const device = deviceOf[Bowser.parse(userAgent).platform.type ?? ""];
  return { program: false, ...(device ? { device } : {}) };
};

/** Reads a `User-Agent` header. Those that were read lately are kept: a crowd has few of them, and reading one takes longer than a page. */
export const visitorAgent = (userAgent: string | null | undefined): VisitorAgent => {
  if (!userAgent) return { program: false };
  const name = userAgent.slice(0, 400);
  let agent = known.get(name);
  if (!agent) {
    agent = read(name);
    if (known.size >= mostKept) known.clear();
    known.set(name, agent);
  }
  return agent;
};
