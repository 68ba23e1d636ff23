import type { APIRoute } from "astro";
import { refusalResponse } from "../../../server/app/endpoint";
import { receiveNotice } from "../../../server/app/notices";
import { applyMarketNotice } from "../../../server/markets/notices";

export const POST: APIRoute = async ({ request, locals: { app } }) => {
  try {
    return Response.json(
      await receiveNotice(app, "market", app.config.MARKET_NOTICE_SECRET, request.headers, await request.text(), applyMarketNotice),
    );
  } catch (error) {
    const refused = refusalResponse(error);
    if (refused) return refused;
    throw error;
  }
};
