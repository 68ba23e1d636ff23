import type { APIRoute } from "astro";
import { deskEndpoint } from "../../../../server/platform/http/endpoint";
import { keepTemplate, templateRequest } from "../../../../server/pages/templates";

export const POST: APIRoute = deskEndpoint(templateRequest, async ({ em, user, body, now }) => {
  const { id, name, kind, purpose, content } = await keepTemplate(em, user, body, now);
  return { id, name, kind, purpose, content };
});
