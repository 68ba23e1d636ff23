import type { APIRoute } from "astro";
import { answerDesk } from "../../../server/answers";

/** The endpoints of the contract. */
export const ALL: APIRoute = answerDesk;
