import type { PageKind } from "../../launch";

/** What a page is there for, in counts of people: who did it, and what that is called. Undefined where the page's work is not counted in people. */
export const goalOf = (kind: PageKind, figure: { optedIn: number; began: number; paid: number }): { people: number; says: string } | undefined => {
  switch (kind) {
    case "optin":
    case "closed":
      return { people: figure.optedIn, says: "opted in" };
    case "sales":
    case "content":
      return { people: figure.began, says: "began a checkout" };
    case "checkout":
      return { people: figure.paid, says: "paid" };
    case "offer":
    case "thanks":
      return undefined;
  }
};
