import type { APIRoute } from "astro";
import { refusalResponse } from "../../../server/app/endpoint";
import { receiveNotice } from "../../../server/app/notices";
import { applyCardNotice } from "../../../server/offers/notices";

export const POST: APIRoute = async ({ request, locals: { app } }) => {
  try {
    return Response.json(
      await receiveNotice(app, "card-desk", app.config.CARD_DESK_NOTICE_SECRET, request.headers, await request.text(), applyCardNotice),
    );
  } catch (error) {
    const refused = refusalResponse(error);
    if (refused) return refused;
    throw error;
  }
};
