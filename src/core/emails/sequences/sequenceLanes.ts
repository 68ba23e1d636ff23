import type { SequenceSetting } from "../../launch";
import { sequenceRun } from "./sequence";

/** How many emails of a step went in the six hours from an instant. */
export interface SentSpan {
  step: string;
  at: Date;
  sent: number;
}

/** A sequence as it is drawn along the bells. */
export interface SequenceLane {
  id: string;
  name: string;
  /** Its steps for somebody, each at its instant; empty where they are not in it. Undefined where it is drawn for everybody. */
  marks?: { step: string; at: Date }[];
  /** For everybody: how many of its emails went, by spans of time. */
  sent: { at: Date; sent: number }[];
}

/** For whom sequences are drawn: one person by their own moments, somebody whose moments are all at one instant, or everybody. */
export type LaneReader = { moments: Readonly<Record<string, Date>>; zone: string } | { moment: Date; zone: string } | undefined;

/** The sequences of a launch as they are drawn along its bells, those without a step left out. */
export const sequenceLanes = (sequences: readonly SequenceSetting[], sent: readonly SentSpan[], reader: LaneReader): SequenceLane[] =>
  sequences
    .filter(({ steps }) => steps.length > 0)
    .map((sequence) => {
      const { id, name } = sequence;
      if (reader) {
        const moment = "moment" in reader ? reader.moment : reader.moments[id];
        const marks = moment ? sequenceRun(sequence, moment, reader.zone).map(({ step, at }) => ({ step: step.id, at })) : [];
        return { id, name, marks, sent: [] };
      }
      const own = new Set(sequence.steps.map((step) => step.id));
      const bySpan = new Map<number, number>();
      for (const span of sent) if (own.has(span.step)) bySpan.set(span.at.getTime(), (bySpan.get(span.at.getTime()) ?? 0) + span.sent);
      return { id, name, sent: [...bySpan].sort(([a], [b]) => a - b).map(([at, n]) => ({ at: new Date(at), sent: n })) };
    });
