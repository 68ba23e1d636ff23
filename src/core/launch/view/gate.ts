import { covers, pageOf, type LaunchPage, type LaunchPlan, type PageKind } from "../plan/launch";
import type { GateAnswerSetting } from "../plan/settings";
import type { WindowPhase } from "../clock/window";

/** What an address answers: a page of the launch, or another address. */
export type GateAnswer = { page: string } | { address: string };

/** Offer and thank-you pages stand outside every gate: they ask for an order, and an order may be finished after the bell. */
export const behindAnOrder = (kind: PageKind): boolean => kind === "offer" || kind === "thanks";

// What answers where the vendor says nothing: the first kind of each list that the launch has.
const ready: Partial<Record<PageKind, Record<WindowPhase, PageKind[]>>> = {
  optin: { before: ["optin"], during: ["sales", "optin"], after: ["closed", "optin"] },
  sales: { before: ["optin", "closed"], during: ["sales"], after: ["closed"] },
  checkout: { before: ["optin", "closed"], during: ["checkout"], after: ["closed"] },
};

const readyAnswer = (plan: LaunchPlan, page: LaunchPage, phase: WindowPhase): GateAnswer => {
  // A launch that collects addresses goes on collecting them while it sells.
  if (plan.shape === "list" && page.kind === "optin" && phase === "during") return { page: page.key };
  const kind = ready[page.kind]?.[phase].find((wanted) => plan.pages.some((other) => other.kind === wanted));
  // Of several pages of a kind each stands at its own address.
  return { page: kind && kind !== page.kind ? plan.pages.find((other) => other.kind === kind)!.key : page.key };
};

const answerOf = (plan: LaunchPlan, page: LaunchPage, setting: GateAnswerSetting): GateAnswer => {
  if (setting.to === "address") return { address: setting.url };
  // A page that is gone must not leave a hole: the address answers for itself.
  return { page: setting.to === "page" && pageOf(plan, setting.page) ? setting.page : page.key };
};

/** What the address of a page answers in a phase: the vendor's first rule that covers it, else what is ready. */
export const gateAnswer = (plan: LaunchPlan, page: LaunchPage, phase: WindowPhase): GateAnswer => {
  if (behindAnOrder(page.kind)) return { page: page.key };
  const rule = plan.settings.gates.find((gate) => covers(gate.covers, page));
  return rule ? answerOf(plan, page, rule[phase]) : readyAnswer(plan, page, phase);
};
