import type { APIRoute } from "astro";
import { endSession } from "../../server/platform";

export const POST: APIRoute = (visit) => endSession(visit, "desk", "/desk/sign-in");
