import { expect, it } from "vitest";
import { planFor } from "../../../tests/support/plans";
import { emailRun, sequenceLanes } from "../../core/emails";
import { drawable } from "./drawable";

const now = new Date("2026-11-24T12:00:00Z");
const typed = ["", "1", "18", "18:", "18:0", "8 o’clock", "25:00"];

it("leaves out a time of day that is only half typed, and keeps one that is whole", () => {
  const { settings } = planFor({});
  for (const time of [...typed, "18:00"]) {
    const step = { id: "s", minutes: 60, time, when: null };
    const email = { id: "e", hangsOn: "closing" as const, minutes: -1440, time, to: "list" as const };
    const sequence = { id: "q", name: "Q", from: { on: "opt_in" as const }, untilBought: true, untilClosed: true, steps: [step] };
    const shown = drawable({ ...settings, emails: [email], sequences: [sequence] });
    const kept = time === "18:00" ? time : null;
    expect([shown.emails[0]!.time, shown.sequences[0]!.steps[0]!.time], time).toEqual([kept, kept]);
    expect(sequenceLanes(shown.sequences, [], { moment: now, zone: "Europe/Lisbon" })[0]!.marks).toHaveLength(1);
    expect(emailRun(planFor({ settings: shown }), {}, now).emails).toHaveLength(1);
  }
});
