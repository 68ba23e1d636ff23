import type { APIRoute } from "astro";
import { endSession } from "../../server/platform";

export const POST: APIRoute = (visit) => endSession(visit, "buyer", "/library/sign-in");
