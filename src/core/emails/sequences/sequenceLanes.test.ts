import { expect, it } from "vitest";
import type { SequenceSetting, StepSetting } from "../../launch";
import { sequenceLanes } from "..";

const step = (id: string, minutes: number): StepSetting => ({ id, minutes, time: null, when: null });
const sequence = (id: string, steps: StepSetting[]): SequenceSetting => ({
  id,
  name: id,
  from: { on: "opt_in" },
  untilBought: true,
  untilClosed: true,
  steps,
});
const sequences = [sequence("new", [step("later", 120), step("first", 60)]), sequence("empty", []), sequence("other", [step("once", 0)])];
const at = (hours: number) => new Date(Date.UTC(2026, 10, 27, hours));

it("draws for everybody what went, all steps of a sequence together by their spans, each in its own lane", () => {
  const sent = [
    { step: "later", at: at(12), sent: 2 },
    { step: "first", at: at(6), sent: 5 },
    { step: "first", at: at(12), sent: 3 },
    { step: "once", at: at(6), sent: 7 },
    { step: "gone", at: at(6), sent: 100 },
  ];
  expect(sequenceLanes(sequences, sent, undefined)).toEqual([
    {
      id: "new",
      name: "new",
      sent: [
        { at: at(6), sent: 5 },
        { at: at(12), sent: 5 },
      ],
    },
    { id: "other", name: "other", sent: [{ at: at(6), sent: 7 }] },
  ]);
});

it("draws for one person their own steps, in the order in which they go, and nothing of what they are not in", () => {
  const [own, other] = sequenceLanes(sequences, [], { moments: { new: at(0) }, zone: "Europe/Lisbon" });
  expect(own!.marks).toEqual([
    { step: "first", at: at(1) },
    { step: "later", at: at(2) },
  ]);
  expect(other!.marks).toEqual([]);
});

it("draws for somebody whose clock starts now every sequence from that instant", () => {
  const lanes = sequenceLanes(sequences, [], { moment: at(3), zone: "Europe/Lisbon" });
  expect(lanes.map(({ marks }) => marks![0])).toEqual([
    { step: "first", at: at(4) },
    { step: "once", at: at(3) },
  ]);
});
