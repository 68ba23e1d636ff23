import { randomUUID } from "node:crypto";
import type { LaunchContext } from "../../src/server/launch/launchContext";
import type { World } from "./world";

/** A list of so many people on a launch, and the bell of an email that has just rung for them. */
export const ringBellFor = async ({ app }: World, context: LaunchContext, n: number, mark: string): Promise<string> => {
  const em = app.fork();
  const email = context.plan.settings.emails.find(({ hangsOn, minutes }) => hangsOn === "opening" && minutes === 0)!;
  await em.execute(
    `with made as (insert into person (id, created_at) select gen_random_uuid(), now() from generate_series(1, ?) returning id),
     numbered as (select id, row_number() over () as i from made),
     listed as (insert into stage_rollup (launch_id, person_id, visited, opted_in) select ?, id, now(), now() from made)
     insert into contact (id, person_id, email, first_name, consent_at, created_at) select gen_random_uuid(), id, '${mark}.' || i || '@many.example', 'Ada', now(), now() from numbered`,
    [n, context.launch.id],
  );
  const id = randomUUID();
  await em.execute("insert into bell_run (id, launch_id, key, email_id, at, label, ran_at, outcome) values (?, ?, ?, ?, ?, 'Email', ?, '')", [
    id,
    context.launch.id,
    `email:${email.id}`,
    email.id,
    new Date(app.clock.now().getTime() - Math.round(Math.random() * 1e6)),
    app.clock.now(),
  ]);
  return id;
};
