import type { APIRoute } from "astro";
import { signOut } from "../../server/app/session";

export const POST: APIRoute = async ({ locals, cookies, redirect }) => {
  await signOut(locals.em, locals.sessionToken);
  cookies.delete("ib_partner", { path: "/" });
  return redirect("/partner/sign-in", 303);
};
