import type { APIRoute } from "astro";
import { loadBundle } from "../../../server/launch/bundle";
import { tryLink } from "../../../server/pages/tryOut";

/** Lets whoever is signed in at the desk walk a launch as a buyer: a browser made up for it, drafts, test cards. */
export const GET: APIRoute = async ({ params, locals: { app, em }, redirect }) => {
  const bundle = await loadBundle(em, { slug: params["slug"]! });
  const checkout = bundle?.pages.find(({ kind }) => kind === "checkout");
  if (!bundle || !checkout) return new Response("There is no such launch, or it has no checkout.", { status: 404 });
  return redirect(`/l/${bundle.launch.slug}/${checkout.slug}?try=${await tryLink(app, bundle.launch.id)}`, 303);
};
