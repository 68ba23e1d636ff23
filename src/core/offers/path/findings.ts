import { cyclesOf, endPage, inOrder, isEnd, type OfferPath, type PathStep } from "./path";

/** What the checks of a path must know of the things it names. */
export interface PathFacts {
  /** The main product of the launch, and what its checkout adds. */
  main: PathProduct;
  bumps: PathProduct[];
  products: Record<string, PathProduct | undefined>;
  pages: Record<string, { published: boolean; name: string } | undefined>;
  /** Whether the launch has a published thank-you page of its own. */
  thanks: boolean;
  /** Currencies beside its own in which the main product is sold. */
  currencies?: string[];
  /** The words of the checkout's order button. */
  pay: string;
}
export interface PathProduct {
  /** Currencies in which it has a price, its own among them. */
  currencies?: string[];
  id: string;
  name: string;
  minor: number;
  currency: string;
  onSale: boolean;
  alone: boolean;
  /** The products that are sold with it, where it is a bundle. */
  contents?: string[];
}

/** Something that keeps a path from running (blocking), or that experience advises against; where, why, and what mends it. */
export interface Finding {
  code: string;
  blocking: boolean;
  /** The step it stands beside; the checkout or the thank-you page otherwise. */
  at: string;
  /** The field of that step's pane. */
  field?: "page" | "product" | "price" | "kind" | "yesTo" | "noTo" | "bumps" | "pay";
  says: string;
  why: string;
}

/** Words of an order button that tell a buyer it is over (common practice, no source). */
const closing = /\b(complete|finish|finali[sz]e|final|conclude|last step|done)\b/i;
/** More offers in a row tire people (common practice, no source). */
const mostInARow = 3;
/** How many times dearer than what was bought an offer still feels near to it (our own measure of a rule of thumb). */
const near = 5;

/** The products that whoever comes to a step has bought already, whatever they answered on the way. */
const soldBefore = (path: OfferPath, order: PathStep[], main: PathProduct, products: PathFacts["products"]): Map<string, Set<string>> => {
  const withContents = (id: string): string[] => [id, ...(products[id]?.contents ?? [])];
  const sold = new Map<string, Set<string>>([[path.first, new Set([...withContents(main.id), ...(main.contents ?? [])])]]);
  const arrive = (at: string, having: Set<string>) => {
    const known = sold.get(at);
    sold.set(at, known ? new Set([...known].filter((product) => having.has(product))) : having);
  };
  for (const step of order) {
    const having = sold.get(step.id)!;
    arrive(step.yesTo, new Set([...having, ...withContents(step.productId)]));
    arrive(step.noTo, having);
  }
  return sold;
};

/** The offers that a buyer meets one after another on the longest way from each step. */
const longest = (order: PathStep[]): Map<string, number> => {
  const length = new Map<string, number>();
  for (const step of [...order].reverse()) length.set(step.id, 1 + Math.max(length.get(step.yesTo) ?? 0, length.get(step.noTo) ?? 0));
  return length;
};

/** Everything that makes a path unable to run, and what experience says of it. Nothing blocking: every route ends on a thank-you page. */
export const pathFindings = (path: OfferPath, facts: PathFacts): Finding[] => {
  const nameOf = (id: string) => facts.products[path.steps.find((step) => step.id === id)?.productId ?? ""]?.name ?? "a step";
  const found: Finding[] = cyclesOf(path).map((through) => ({
    code: "cycle",
    blocking: true,
    at: through[0]!,
    field: "noTo",
    says: `The path goes in a circle: ${through.map(nameOf).join(", ")}.`,
    why: "A buyer would be asked the same thing for ever. Lead one of these rails on.",
  }));
  const order = inOrder(path);
  const known = new Set(path.steps.map(({ id }) => id));
  for (const step of path.steps) found.push(...ofStep(step, path, facts, known));
  if (!isEnd(path.first) && !known.has(path.first))
    found.push({
      code: "edge_to_nothing",
      blocking: true,
      at: "checkout",
      says: "The checkout leads to nothing.",
      why: "Add a step, or let it lead to the thank-you page.",
    });
  if (!facts.thanks)
    found.push({
      code: "no_thanks",
      blocking: true,
      at: "thanks",
      field: "page",
      says: "No thank-you page is published.",
      why: "Every route ends there: without it a buyer who has paid sees nothing.",
    });
  if (facts.main.alone && facts.bumps.length > 0)
    found.push({
      code: "alone_with_bumps",
      blocking: true,
      at: "checkout",
      field: "bumps",
      says: `${facts.main.name} is sold alone, but its checkout has bumps.`,
      why: "Take the bumps off the checkout, or let the product be bought with others.",
    });
  if (order) found.push(...ofOrder(path, order, facts));
  return found;
};

const ofStep = (step: PathStep, path: OfferPath, facts: PathFacts, known: Set<string>): Finding[] => {
  const product = facts.products[step.productId];
  const page = facts.pages[step.pageId];
  const name = product?.name ?? "This step";
  const found: Finding[] = [];
  const add = (code: string, field: Finding["field"], says: string, why: string, blocking = true) =>
    found.push({ code, blocking, at: step.id, field, says, why });
  if (!product) add("no_product", "product", "This step sells nothing yet.", "Choose what is offered here.");
  else if (product.minor <= 0)
    add("no_price", "price", `${name} has no price in the currency of the order.`, "Give it one: nothing can be charged without.");
  else if (!product.onSale) add("not_on_sale", "product", `${name} is not on sale.`, "Buyers pass this step over until it is.");
  if (!page) add("no_page", "page", `${name} has no page.`, "Choose the page on which it is offered.");
  else if (!page.published) add("not_published", "page", `The page of ${name} is not published.`, "Buyers pass this step over until it is.");
  for (const [rail, to] of [
    ["yesTo", step.yesTo],
    ["noTo", step.noTo],
  ] as const) {
    const other = endPage(to);
    if (isEnd(to) ? other !== undefined && !facts.pages[other]?.published : !known.has(to))
      add(
        "edge_to_nothing",
        rail,
        `${rail === "yesTo" ? "Yes" : "No"} leads to nothing.`,
        "Lead it to another step or to a published thank-you page.",
      );
  }
  const declined = path.steps.find((one) => one.noTo === step.id);
  if (step.kind === "downsell" && !declined)
    add(
      "downsell_of_nothing",
      "kind",
      `${name} is a downsell, but stands on no offer's no rail.`,
      "Move it to the no rail of what it replaces, or make it an offer.",
      false,
    );
  const dearer = declined && facts.products[declined.productId];
  if (step.kind === "downsell" && product && dearer && product.minor >= dearer.minor)
    add(
      "downsell_not_cheaper",
      "price",
      `${name} costs no less than ${dearer.name}, which was just declined.`,
      "A downsell is a few units cheaper (common practice).",
      false,
    );
  return found;
};

const ofOrder = (path: OfferPath, order: PathStep[], facts: PathFacts): Finding[] => {
  const found: Finding[] = [];
  const reached = new Set(order.map(({ id }) => id));
  for (const step of path.steps)
    if (!reached.has(step.id))
      found.push({
        code: "unreachable",
        blocking: true,
        at: step.id,
        field: "noTo",
        says: `Nothing leads to ${facts.products[step.productId]?.name ?? "this step"}.`,
        why: "Lead a rail to it, or take it away.",
      });
  for (const step of order) {
    const product = facts.products[step.productId];
    const missing = (facts.currencies ?? []).filter((code) => product?.currencies && !product.currencies.includes(code));
    if (missing.length > 0)
      found.push({
        code: "no_price_in_currency",
        blocking: false,
        at: step.id,
        field: "price",
        says: `${product!.name} has no price in ${missing.join(" and ")}, in which ${facts.main.name} is sold.`,
        why: "Buyers who pay in another currency pass it over. Give it a price there, under Products.",
      });
  }
  for (const bump of facts.bumps)
    if (facts.main.contents?.includes(bump.id))
      found.push({
        code: "sold_already",
        blocking: true,
        at: "checkout",
        field: "bumps",
        says: `${bump.name} is part of ${facts.main.name} already.`,
        why: "Nobody should pay for it twice: take the bump away, or take it out of the bundle under Products.",
      });
  const sold = soldBefore(path, order, facts.main, facts.products);
  for (const { id, productId } of order)
    if (sold.get(id)?.has(productId))
      found.push({
        code: "sold_already",
        blocking: true,
        at: id,
        field: "product",
        says: `Everyone who comes here has bought ${facts.products[productId]?.name ?? "it"} already.`,
        why: "Offer something else, or move the step to where it was not sold.",
      });
  const first = order[0];
  if (!first) return found;
  const length = longest(order).get(path.first) ?? 0;
  if (length > mostInARow)
    found.push({
      code: "too_many",
      blocking: false,
      at: path.first,
      says: `${length} offers stand in a row on the longest route.`,
      why: "More than three tire people (common practice).",
    });
  if (closing.test(facts.pay))
    found.push({
      code: "closing_words",
      blocking: false,
      at: "checkout",
      field: "pay",
      says: `“${facts.pay}” closes the deal, but offers follow.`,
      why: "A buyer who thinks it is over does not look at what comes next. Say what the press does, such as “Pay and keep knitting”.",
    });
  const offered = facts.products[first.productId];
  if (offered && facts.main.minor > 0 && offered.minor > near * facts.main.minor)
    found.push({
      code: "far_from_bought",
      blocking: false,
      at: first.id,
      field: "product",
      says: `${offered.name} is far from what was just bought.`,
      why: "The first offer works best when it is more of the same, or close to it (common practice); one several hundred times dearer is taken by 1 to 3 in a hundred.",
    });
  return found;
};
