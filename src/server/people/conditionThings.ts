import { emailRef, type ConditionThings } from "../../core/conditions";
import { emailKindNames, emailKindWords } from "../../core/emails";
import { distinctNames } from "../../core/figures";
import { newestPaths } from "../../store/offers/newestPaths";
import { nameableEmails } from "../../store/emails/launchEmails";
import { Launch, Partner, Product } from "../../store/tables";
import type { EntityManager } from "../../store/orm";

/** What the sentences of conditions can name, each by a name of its own; steps and emails of all launches, or of one. */
export const conditionThings = async (em: EntityManager, launchId?: string): Promise<ConditionThings> => {
  const launch = distinctNames(await em.find(Launch, {}, { orderBy: { name: 1, id: 1 }, fields: ["id", "name", "slug"] }), ({ slug }) => slug);
  const product = distinctNames(await em.find(Product, {}, { orderBy: { name: 1, id: 1 } }));
  const partner = distinctNames(await em.find(Partner, {}, { orderBy: { id: 1 } }), ({ code }) => code);
  const soldAt = (id: string | null) => product.find((one) => one.id === id)?.name ?? "a step without a product";
  const steps = (await newestPaths(em, launchId)).flatMap(({ launchId: of, path }) =>
    path.steps.map(({ id, productId }) => ({ id, name: soldAt(productId), of })),
  );
  const step = distinctNames(steps, ({ of }) => launch.find(({ id }) => id === of)?.name ?? "");
  const emails = (await nameableEmails(em, launchId)).map(({ launchId: of, key, subject }) => {
    const kind = emailKindNames.find((one) => one === key);
    const own = subject || (kind ? emailKindWords[kind] : "no subject yet");
    return { id: emailRef(of, key), name: `${launch.find(({ id }) => id === of)?.name ?? ""}: ${own}`, key };
  });
  const email = distinctNames(emails, ({ key }) => key);
  const named = (things: readonly { id: string; name: string }[]) => things.map(({ id, name }) => ({ id, name }));
  return { launch: named(launch), product: named(product), partner: named(partner), step: named(step), email: named(email) };
};
