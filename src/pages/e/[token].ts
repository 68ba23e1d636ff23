import type { APIRoute } from "astro";
import { emailOpened, followLink, readEmailLink } from "../../server/emails";
import { clickCookie, cookie, lookOf } from "../../server/platform";
import { nothingHere } from "../../server/site";

/** A picture of one transparent dot (GIF89a). */
const dot = Buffer.from("R0lGODlhAQABAIAAAAAAAP///yH5BAEAAAAALAAAAAABAAEAAAIBRAA7", "base64");
const headers = { "cache-control": "no-store", "referrer-policy": "no-referrer", "x-robots-tag": "noindex" };

/** Links of emails, and the picture by which they tell that they were opened. */
export const GET: APIRoute = async ({ params, request, locals: { app } }) => {
  const read = readEmailLink(app, params["token"] ?? "");
  const missing = () => {
    const { status, body, headers: own } = nothingHere(app);
    return new Response(body, { status, headers: own });
  };
  if (!read) return missing();
  const head = request.method === "HEAD";
  if (!read.to) {
    if (!head) await emailOpened(app, read.emailId);
    return new Response(head ? null : dot, { headers: { ...headers, "content-type": "image/gif" } });
  }
  const { passive = false } = lookOf(request.method, request.headers.get("sec-purpose"), request.headers.get("user-agent"));
  const followed = await followLink(app, { emailId: read.emailId, to: read.to }, { passive, head });
  if (!followed) return missing();
  const response = new Response(null, { status: 303, headers: { ...headers, location: followed.location } });
  if (followed.clickId) response.headers.append("set-cookie", cookie(app, clickCookie, followed.clickId, 600));
  return response;
};
