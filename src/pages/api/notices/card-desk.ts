import type { APIRoute } from "astro";
import type { App } from "../../../server/app/app";
import { refusalResponse } from "../../../server/app/endpoint";
import { receiveNotice } from "../../../server/app/notices";
import { applyCardNotice } from "../../../server/offers/notices";

// Each account signs with a secret of its own.
const noticeSecrets = ({ config }: App) => [config.CARD_DESK_NOTICE_SECRET, ...config.CARD_DESK_ACCOUNTS.map(({ noticeSecret }) => noticeSecret)];

export const POST: APIRoute = async ({ request, locals: { app } }) => {
  try {
    return Response.json(await receiveNotice(app, "card-desk", noticeSecrets(app), request.headers, await request.text(), applyCardNotice));
  } catch (error) {
    const refused = refusalResponse(error);
    if (refused) return refused;
    throw error;
  }
};
