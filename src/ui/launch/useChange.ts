import * as launches from "../../contract/launches";
import { useState } from "react";
import type { ChangeSummary, LaunchSettings } from "../../core/launch";
import { call } from "../kit/data/call";

export interface Proposal {
  settings: LaunchSettings;
  what: string;
  summary: ChangeSummary;
}

/** Proposes a change of a launch's settings, shows what it would do, makes it, and undoes the newest one. */
export const useChange = (slug: string, first: number) => {
  const [version, setVersion] = useState(first);
  const [proposal, setProposal] = useState<Proposal>();
  return {
    /** The version that a change is made to. */
    version,
    proposal,
    leave: () => setProposal(undefined),
    async propose(settings: LaunchSettings, what: string) {
      const answer = await call(launches.summariseChange, { params: { slug }, request: { settings } });
      setProposal(answer.ok ? { settings, what, summary: answer.value } : undefined);
      return answer;
    },
    async apply() {
      const { settings, what } = proposal!;
      const answer = await call(launches.changeSettings, { params: { slug }, request: { settings, what, version } });
      if (answer.ok) {
        setVersion(answer.value.version);
        setProposal(undefined);
      }
      return answer;
    },
    async undo() {
      const answer = await call(launches.undoChange, { params: { slug } });
      if (answer.ok) {
        setVersion(answer.value.version);
        setProposal(undefined);
      }
      return answer;
    },
  };
};
