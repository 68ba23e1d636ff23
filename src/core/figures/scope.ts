import type { Condition, ConditionScope } from "../conditions";

/** What figures are about: a launch or all, as things are or were at an instant; test orders alone, where asked for; only people who meet a condition. */
export interface FigureScope extends ConditionScope {
  test?: boolean;
  condition?: Condition;
}
