import type { EntityManager } from "../orm";
import type { PartnerApplication } from "./tables";

/** Keeps an application. Answers whether it is new: one address waits once. */
export const addApplication = async (
  tx: EntityManager,
  { id, launchId, email, name, words, at }: Pick<PartnerApplication, "id" | "launchId" | "email" | "name" | "words" | "at">,
): Promise<boolean> => {
  const made = await tx.execute<object[]>(
    "insert into partner_application (id, launch_id, email, name, words, at) values (?, ?, ?, ?, ?, ?) on conflict (email) where state = 'waiting' do nothing returning 1",
    [id, launchId, email, name, words, at],
  );
  return made.length > 0;
};
