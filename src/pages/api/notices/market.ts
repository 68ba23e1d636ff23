import type { APIRoute } from "astro";
import { receiveNotice } from "../../../server/platform";
import { applyMarketNotice } from "../../../server/markets";

export const POST: APIRoute = async ({ request, locals: { app } }) => {
  return Response.json(await receiveNotice(app, "market", app.config.MARKET_NOTICE_SECRET, request.headers, await request.text(), applyMarketNotice));
};
