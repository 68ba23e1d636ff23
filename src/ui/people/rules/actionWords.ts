import type { RuleAction } from "../../../core/people";

/** What a rule does, in words. */
export const actionWords = (action: RuleAction, launches: readonly { id: string; name: string }[]): string => {
  switch (action.does) {
    case "tag":
      return `gets the tag “${action.tag}”.`;
    case "untag":
      return `loses the tag “${action.tag}”.`;
    case "fill":
      return `gets “${action.value}” in the field “${action.field}”.`;
    case "leave":
      return `gets no more emails of ${launches.find(({ id }) => id === action.launch)?.name ?? "a launch that was deleted"}.`;
  }
};
