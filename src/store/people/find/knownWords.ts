import type { EntityManager } from "../../orm";

/** Every tag that somebody has, in order. */
export const knownTags = async (em: EntityManager): Promise<string[]> =>
  (await em.execute<{ tag: string }[]>("select distinct tag from person_tag order by 1")).map(({ tag }) => tag);

/** Every field of the vendor's own, and every question that somebody answered, in order. */
export const answeredQuestions = async (em: EntityManager): Promise<string[]> =>
  (
    await em.execute<{ question: string }[]>(
      `select name as question from person_field union
       select k from contact c cross join lateral jsonb_object_keys(c.answers) k where not c.test and c.answers <> '{}' order by 1`,
    )
  ).map(({ question }) => question);
