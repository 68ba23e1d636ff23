import type { RawQueryFragment } from "@mikro-orm/postgresql";
import type { FigureScope } from "../../core/figures";
import { sqlPart } from "../sqlPart";
import { peopleMeeting } from "../people/find/conditionSql";

const all = sqlPart`true`;

/**
 * The orders that a scope's figures count, named `s` in a statement: those placed by its instant in its launch, by people who meet its
 * condition; test orders where it asks for them, and then no others. This is the one place that says which orders count.
 */
export const ordersIn = (scope: FigureScope): RawQueryFragment => {
  const { launchId, now, test = false, condition } = scope;
  const ofLaunch = launchId === undefined ? all : sqlPart`o.launch_id = ${launchId}`;
  const ofPeople = condition ? sqlPart`o.person_id in (${peopleMeeting(condition, scope)})` : all;
  return sqlPart`(select o.* from sale_order o where o.placed_at <= ${now} and o.test = ${test} and ${ofLaunch} and ${ofPeople}) as s`;
};
