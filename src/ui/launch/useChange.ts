import { useState } from "react";
import { z } from "zod";
import { launchSettings, type ChangeSummary, type LaunchSettings } from "../../core/launch";
import { send, type Answer } from "../kit/data/send";

const instant = z.coerce.date();
const warning = z.discriminatedUnion("code", [
  z.object({ code: z.literal("closing_earlier"), people: z.number() }),
  z.object({ code: z.literal("closing_later"), people: z.number() }),
  z.object({ code: z.literal("opening_moved"), people: z.number() }),
  z.object({ code: z.literal("more_seats"), from: z.number(), to: z.number().nullable() }),
  z.object({ code: z.literal("price_falls"), fromMinor: z.number(), toMinor: z.number(), buyers: z.number() }),
]);
const summary: z.ZodType<ChangeSummary> = z.object({
  moved: z.array(z.object({ key: z.string(), label: z.string(), from: instant.optional(), to: instant.optional() })),
  countdowns: z.array(z.object({ minutes: z.number(), people: z.number() })),
  reopened: z.number(),
  shut: z.number(),
  warnings: z.array(warning),
});

export interface Proposal {
  settings: LaunchSettings;
  what: string;
  summary: ChangeSummary;
}

/** Proposes a change of a launch's settings, shows what it would do, makes it, and undoes the newest one. */
export const useChange = (slug: string, first: number) => {
  const [version, setVersion] = useState(first);
  const [proposal, setProposal] = useState<Proposal>();
  const post = <T>(step: string, body: unknown, answer: z.ZodType<T>): Promise<Answer<T>> => send(`/api/desk/${slug}/clock/${step}`, body, answer);
  return {
    /** The version that a change is made to. */
    version,
    proposal,
    leave: () => setProposal(undefined),
    async propose(settings: LaunchSettings, what: string) {
      const answer = await post("summary", { settings }, summary);
      setProposal(answer.ok ? { settings, what, summary: answer.value } : undefined);
      return answer;
    },
    async apply() {
      const { settings, what } = proposal!;
      const answer = await post("change", { settings, what, version }, z.object({ version: z.number() }));
      if (answer.ok) {
        setVersion(answer.value.version);
        setProposal(undefined);
      }
      return answer;
    },
    async undo() {
      const answer = await post("undo", {}, z.object({ what: z.string(), settings: launchSettings, version: z.number() }));
      if (answer.ok) {
        setVersion(answer.value.version);
        setProposal(undefined);
      }
      return answer;
    },
  };
};
