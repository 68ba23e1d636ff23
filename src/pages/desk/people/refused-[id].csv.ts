import type { APIRoute } from "astro";
import { z } from "zod";
import { refusedLines } from "../../../server/people";
import { deskUser } from "../../../server/platform";

/** The lines of a file of people that were refused, as a file. */
export const GET: APIRoute = (visit) => refusedLines(visit.locals.app, visit.locals.em, deskUser(visit), z.uuid().parse(visit.params["id"]));
