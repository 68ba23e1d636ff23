import type { APIRoute } from "astro";
import { signOut } from "../../server/app/session";

export const POST: APIRoute = async ({ locals, cookies, redirect }) => {
  await signOut(locals.em, locals.sessionToken);
  cookies.delete("ib_buyer", { path: "/" });
  return redirect("/library/sign-in", 303);
};
