import type { APIRoute } from "astro";
import { type App, receiveNotice } from "../../../server/platform";
import { applyCardNotice } from "../../../server/payments";

// Each account signs with a secret of its own.
const noticeSecrets = ({ config }: App) => [config.CARD_DESK_NOTICE_SECRET, ...config.CARD_DESK_ACCOUNTS.map(({ noticeSecret }) => noticeSecret)];

export const POST: APIRoute = async ({ request, locals: { app } }) => {
  return Response.json(await receiveNotice(app, "card-desk", noticeSecrets(app), request.headers, await request.text(), applyCardNotice));
};
