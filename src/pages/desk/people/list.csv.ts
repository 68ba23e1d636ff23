import type { APIRoute } from "astro";
import { peopleAskedBy, peopleFile } from "../../../server/people";
import { deskUser } from "../../../server/platform";

/** What is shown of the people, as a file. */
export const GET: APIRoute = (visit) => peopleFile(visit.locals.em, deskUser(visit), peopleAskedBy(visit.url), visit.locals.scope);
