import type { Endpoint } from "./endpoint";
import * as delivery from "./delivery";
import * as emails from "./emails";
import * as launches from "./launches";
import * as markets from "./markets";
import * as offers from "./offers";
import * as orders from "./orders";
import * as pages from "./pages";
import * as partners from "./partners";
import * as people from "./people";
import * as peopleImport from "./peopleImport";
import * as peopleRules from "./peopleRules";
import * as products from "./products";
import * as retarget from "./retarget";
import * as settings from "./settings";
import * as webhooks from "./webhooks";
import * as work from "./work";

const isEndpoint = (value: unknown): value is Endpoint => typeof value === "object" && value !== null && "permission" in value && "path" in value;

/** Every endpoint of the desk. */
export const endpoints: readonly Endpoint[] = [
  delivery,
  emails,
  launches,
  markets,
  offers,
  orders,
  pages,
  partners,
  people,
  peopleImport,
  peopleRules,
  products,
  retarget,
  settings,
  webhooks,
  work,
].flatMap((room) => Object.values<unknown>(room).filter(isEndpoint));
