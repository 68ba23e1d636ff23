import type { APIRoute } from "astro";
import { deskEndpoint } from "../../../../server/platform";
import { keepTemplate, templateRequest } from "../../../../server/pages";

export const POST: APIRoute = deskEndpoint(templateRequest, async ({ em, user, body, now }) => {
  const { id, name, kind, purpose, content } = await keepTemplate(em, user, body, now);
  return { id, name, kind, purpose, content };
});
