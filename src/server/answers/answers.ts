import type { APIContext } from "astro";
import { pathAt } from "../../contract/endpoint";
import { checkoutEndpoints } from "../checkout";
import { launchEndpoints } from "../launch";
import { leakEndpoints } from "../leaks";
import { marketEndpoints } from "../markets";
import { offerEndpoints } from "../offers";
import { pageEndpoints } from "../pages";
import { partnerEndpoints } from "../partners";
import { paymentEndpoints } from "../payments";
import { peopleEndpoints } from "../people";
import { type Answering, Refusal } from "../platform";
import { productEndpoints } from "../products";
import { retargetEndpoints } from "../retarget";
import { settingsEndpoints } from "../settings";
import { siteEndpoints } from "../site";
import { startEndpoints } from "../start";
import { workEndpoints } from "../work";

/** What answers each endpoint of the contract. */
export const answers: readonly Answering[] = [
  checkoutEndpoints,
  launchEndpoints,
  leakEndpoints,
  marketEndpoints,
  offerEndpoints,
  pageEndpoints,
  partnerEndpoints,
  paymentEndpoints,
  peopleEndpoints,
  productEndpoints,
  retargetEndpoints,
  settingsEndpoints,
  siteEndpoints,
  startEndpoints,
  workEndpoints,
].flat();

/** Answers a request to an endpoint of the desk. */
export const answerDesk = (visit: APIContext): Promise<Response> => {
  // The very path that the guard went by.
  const path = visit.url.pathname.replace(/^\/api\/desk\//, "");
  const found = pathAt(
    answers.map(({ endpoint }) => endpoint.path),
    path,
  );
  const answer = answers.find(({ endpoint }) => endpoint.path === found?.path && endpoint.method === visit.request.method);
  if (!found || !answer) throw new Refusal(404, "not_found", "There is no such endpoint.");
  return answer.respond(visit, found.params);
};
