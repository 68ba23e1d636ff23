import type { APIRoute } from "astro";
import { endSession } from "../../server/app/sessionCookie";

export const POST: APIRoute = (visit) => endSession(visit, "partner", "/partner/sign-in");
