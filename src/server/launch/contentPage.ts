import { randomUUID } from "node:crypto";
import { z } from "zod";
import { templates } from "../../core/pages";
import { Page, type DeskUser } from "../../store/entities";
import type { EntityManager } from "../../store/orm";
import { Refusal } from "../app/refusal";
import { mustWrite } from "../app/session";
import { launchChanged, type LaunchBundle } from "./bundle";

export const contentPageRequest = z.object({
  address: z
    .string()
    .trim()
    .toLowerCase()
    .regex(/^[a-z0-9-]+(\/[a-z0-9-]+){0,2}$/, "Letters, digits and hyphens; a slash makes a folder, such as bonus/pattern-one.")
    .max(80, "80 characters at most.")
    .refine((address) => !/^(do|charge)(\/|$)/.test(address), "This address is taken by the program."),
  headline: z.string().trim().min(1, "A page needs a headline.").max(160, "160 characters at most."),
});

/** Adds a page of the vendor's own to a launch, as a draft. Its address names it. */
export const addContentPage = async (
  em: EntityManager,
  user: DeskUser,
  bundle: LaunchBundle,
  request: z.infer<typeof contentPageRequest>,
): Promise<Page> => {
  mustWrite(user);
  if (bundle.pages.some(({ slug, key }) => slug === request.address || key === request.address))
    throw new Refusal(422, "fields", "The page was not added.", { address: "This launch has a page at this address already." });
  return em.transactional(async (tx) => {
    const draft = { ...templates(bundle.product.name).content, headline: request.headline };
    const page = tx.create(Page, {
      id: randomUUID(),
      launchId: bundle.launch.id,
      kind: "content",
      key: request.address,
      slug: request.address,
      draft,
      published: null,
      compiled: null,
      publishedAt: null,
      version: 1,
    });
    await tx.persist(page).flush();
    await launchChanged(tx);
    return page;
  });
};
