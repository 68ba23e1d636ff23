import { stages, type Stage } from "../../core/events";
import type { FigureScope } from "../../core/figures";
import { peopleMeeting } from "../people/find/conditionSql";
import type { EntityManager } from "../orm";

/**
 * How many different people have reached each stage of a launch: as things are now by the counters; at an instant of the past, or of those
 * who meet a condition, by everybody's times.
 */
export const stageFunnel = async (em: EntityManager, scope: FigureScope & { launchId: string }): Promise<Record<Stage, number>> => {
  const { launchId, now, past, condition } = scope;
  const rows =
    past || condition
      ? await em.execute<{ stage: Stage; people: string }[]>(
          `select s.stage, s.people from (
             select ${stages.map((stage) => `count(*) filter (where ${stage} <= t.at) as ${stage}`).join(", ")}
             from stage_rollup, (select ?::timestamptz as at) as t where launch_id = ? ${condition ? "and person_id in (?)" : ""}
           ) as f cross join lateral (values ${stages.map((stage) => `('${stage}', f.${stage})`).join(", ")}) as s(stage, people)`,
          [now, launchId, ...(condition ? [peopleMeeting(condition, scope)] : [])],
        )
      : await em.execute<{ stage: Stage; people: string }[]>(
          "select kind as stage, sum(people) as people from hour_count where launch_id = ? group by 1",
          [launchId],
        );
  return Object.fromEntries(stages.map((stage) => [stage, Number(rows.find((row) => row.stage === stage)?.people ?? 0)])) as Record<Stage, number>;
};
