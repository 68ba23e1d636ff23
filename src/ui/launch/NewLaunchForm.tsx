import { createLaunch } from "../../contract/launches";
import {
  drawnLaunch,
  isZone,
  newLaunchRequest,
  plannedPages,
  planNewLaunch,
  requestedRule,
  resolveWallTime,
  type Landmark,
  type LaunchShape,
  type NewLaunchRequest,
  type RuleParts,
} from "../../core/launch";
import { currencies } from "../../core/money";
import { clockTime, counted, faultsOf } from "../../core/words";
import { Button } from "../kit/Button";
import { call } from "../kit/data/call";
import { deskLocale, faultSentences } from "../kit/data/numbers";
import { useReady } from "../kit/data/useReady";
import { ChoiceCards, type Choice } from "../kit/fields/ChoiceCards";
import { Combobox } from "../kit/fields/Combobox";
import { DateTimeField, TimeField } from "../kit/fields/DateTimeField";
import { Field } from "../kit/fields/Field";
import { optionsOf, Select } from "../kit/fields/Select";
import { useMakeForm } from "../kit/record/useMakeForm";
import { NextOpenings, RepeatFields } from "./clock/RepeatFields";
import { NewLaunchDrawing } from "./NewLaunchDrawing";
import styles from "./NewLaunchForm.module.css";

const shapes: Choice<LaunchShape>[] = [
  { value: "full", title: "Build a list, then sell", says: "opt-in, episodes, sales page" },
  { value: "short", title: "Sell at once", says: "straight to the sales page" },
  { value: "list", title: "Only a list", says: "collect addresses, sell later" },
];
const timings = optionsOf({
  fixed: "Once, on dates for everyone",
  recurring: "Recurring, for everyone",
  personal: "Always on, a clock for each person",
});
const triggers = optionsOf({
  opt_in: "when they join the list",
  first_visit: "at their first visit",
  webhook: "when another tool says so, by a signed notice",
});
const taxModes = optionsOf({ inclusive: "included in the price", exclusive: "added to the price" });

const fresh: NewLaunchRequest = newLaunchRequest.parse({ name: "", zone: "Europe/Lisbon", currency: "EUR", taxMode: "inclusive" });

/** Starts a launch from a few questions: all its bells, gates, emails and pages are laid out from them, to be changed. */
export const NewLaunchForm = ({ zones, now }: { zones: string[]; now: number }) => {
  const ready = useReady();
  const form = useMakeForm<NewLaunchRequest, { slug: string }>({
    keep: "new-launch",
    fresh,
    check: (typed) => {
      const read = newLaunchRequest.safeParse(typed);
      const planned = read.success ? planNewLaunch(read.data, deskLocale()) : { faults: faultsOf(read.error) };
      return faultSentences("faults" in planned ? planned.faults : {});
    },
    send: (request) => call(createLaunch, { request }),
    made: ({ slug }) => location.assign(`/desk/${slug}/score`),
  });
  // What an older version kept in the browser may not fit any more.
  const values = newLaunchRequest.catch(fresh).parse(form.values);
  const { wrong } = form;
  const moment = (name: "opensWall" | "closesWall", label: string, landmarks?: Landmark[]) => (
    <DateTimeField label={label} zone={zone} landmarks={landmarks} {...form.choice(name)} />
  );
  const { zone, shape, clock } = values;
  const parts: RuleParts = values.repeats;
  const pages = plannedPages(shape).length;
  const drawn = drawnLaunch(values, deskLocale());
  const emails = drawn?.settings.emails.length ?? 0;
  const closes = resolveWallTime(values.closesWall, zone);
  return (
    <form className={styles.form} onSubmit={(event) => void form.submit(event)} noValidate inert={!ready}>
      <div>
        <Field label="Name" {...form.text("name")} />
        <ChoiceCards legend="Shape" choices={shapes} {...form.choice("shape")} />
        <Select label="Timing" options={timings} {...form.choice("clock")} />
        <Combobox
          label="Time zone"
          options={zones}
          hint={isZone(zone) ? `Now ${clockTime(new Date(now), zone)}. Every time of the launch is meant there.` : undefined}
          {...form.choice("zone")}
        />
        {clock === "fixed" && (
          <div className={styles.two}>
            {moment("opensWall", "Doors open", "instant" in closes ? [{ label: "Doors close", at: closes.instant }] : [])}
            {moment("closesWall", "Doors close")}
          </div>
        )}
        {clock === "recurring" && (
          <>
            <div className={styles.two}>
              {moment("opensWall", "Doors open first")}
              <Field label="Stay open for, hours" type="number" step="any" {...form.text("openHours")} />
            </div>
            <RepeatFields parts={parts} wrong={wrong("repeats")} onChange={form.choice("repeats").onChange} />
            {values.opensWall && (
              <NextOpenings
                first={values.opensWall}
                rule={requestedRule(values)}
                zone={zone}
                lengthMinutes={Math.round(values.openHours * 60)}
                now={now}
              />
            )}
          </>
        )}
        {clock === "personal" && (
          <>
            <Select label="A person’s clock starts" options={triggers} {...form.choice("trigger")} />
            <div className={styles.two}>
              <Field label="Each person has, hours" type="number" step="any" {...form.text("personHours")} />
              <TimeField label="Then until the next" hint="Empty: exactly so many hours after the start." {...form.choice("personUntil")} />
            </div>
          </>
        )}
        {shape === "list" ? (
          <p className="muted">What is sold, and for how much, is asked when the launch begins to sell.</p>
        ) : (
          <>
            <Field label="Main product" hint="As the buyer reads it on the page and the receipt." {...form.text("productName")} />
            <div className={styles.three}>
              <Field label="Price" inputMode="decimal" placeholder="149.00" {...form.text("price")} />
              <Select label="Currency" options={currencies.map((code) => ({ value: code, label: code }))} {...form.choice("currency")} />
              <Select label="Tax" options={taxModes} {...form.choice("taxMode")} />
            </div>
          </>
        )}
        <p>
          <Button main type="submit" disabled={form.busy}>
            {`Start with ${counted(pages, "page")}${emails > 0 ? ` and ${counted(emails, "email")}` : ""}`}
          </Button>
        </p>
      </div>
      <section className={styles.comes} aria-labelledby="comes">
        <h2 id="comes">What comes of it</h2>
        {drawn ? (
          <NewLaunchDrawing source={drawn} now={now} />
        ) : (
          <p className={styles.notYet}>
            {clock === "personal"
              ? "The launch is drawn here once it is known how long each person has."
              : "The launch is drawn here once it is known when the doors open" + (clock === "fixed" ? " and close." : ".")}
          </p>
        )}
        <p className="muted">
          Pages stand ready with words of this shape, to be made yours. Gates, the countdown’s urgent looks and the emails are laid out too; all can
          be changed. Nothing is public, and nothing can be charged, before you publish.
        </p>
      </section>
    </form>
  );
};
