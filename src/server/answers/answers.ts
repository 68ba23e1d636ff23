import { deliveryAnswers } from "./delivery";
import { emailAnswers } from "./emails";
import { launchAnswers } from "./launches";
import { pageAnswers } from "./pages";
import { offerAnswers } from "./offers";
import { productAnswers } from "./products";
import { orderAnswers } from "./orders";
import { partnerAnswers } from "./partners";
import { marketAnswers } from "./markets";
import { peopleAnswers } from "./people";
import { peopleImportAnswers } from "./peopleImport";
import { peopleRulesAnswers } from "./peopleRules";
import { retargetAnswers } from "./retarget";
import { settingsAnswers } from "./settings";
import { webhookAnswers } from "./webhooks";
import { workAnswers } from "./work";
import type { APIContext } from "astro";
import { pathAt } from "../../contract/endpoint";
import { type Answering, Refusal } from "../platform";

/** What answers each endpoint of the contract. */
export const answers: readonly Answering[] = [
  launchAnswers,
  deliveryAnswers,
  emailAnswers,
  pageAnswers,
  offerAnswers,
  productAnswers,
  orderAnswers,
  partnerAnswers,
  marketAnswers,
  peopleAnswers,
  peopleImportAnswers,
  peopleRulesAnswers,
  retargetAnswers,
  settingsAnswers,
  webhookAnswers,
  workAnswers,
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
  if (!found || !answer) throw new Refusal({ code: "not_found", what: "endpoint" });
  return answer.respond(visit, found.params);
};
