import { useCallback, useState } from "react";
import { useForm } from "react-hook-form";
import type { z } from "zod";
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
import { useKeptDraft } from "../kit/data/useKeptDraft";
import { useReady } from "../kit/data/useReady";
import { ChoiceCards, type Choice } from "../kit/fields/ChoiceCards";
import { Combobox } from "../kit/fields/Combobox";
import { DateTimeField, TimeField } from "../kit/fields/DateTimeField";
import { Field } from "../kit/fields/Field";
import { optionsOf, Select } from "../kit/fields/Select";
import { useToast } from "../kit/Toast";
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

/** Starts a launch from a few questions: all its bells, gates, emails and pages are laid out from them, to be changed. */
export const NewLaunchForm = ({ zones, now }: { zones: string[]; now: number }) => {
  const { say, toast } = useToast();
  const ready = useReady();
  const [busy, setBusy] = useState(false);
  const form = useForm<z.input<typeof newLaunchRequest>, unknown, NewLaunchRequest>({
    // Every objection at once, each at its field.
    resolver: (values) => {
      const read = newLaunchRequest.safeParse(values);
      const planned = read.success ? planNewLaunch(read.data, deskLocale()) : { faults: faultsOf(read.error) };
      if (read.success && "plan" in planned) return { values: read.data, errors: {} };
      const said = faultSentences("faults" in planned ? planned.faults : {});
      return { values: {}, errors: Object.fromEntries(Object.entries(said).map(([field, message]) => [field, { type: "rule", message }])) };
    },
    defaultValues: {
      name: "",
      zone: "Europe/Lisbon",
      shape: "full",
      clock: "fixed",
      opensWall: "",
      closesWall: "",
      repeats: { every: 1, unit: "week", days: [], times: null },
      openHours: 72,
      personHours: 72,
      personUntil: "",
      trigger: "opt_in",
      productName: "",
      price: "",
      currency: "EUR",
      taxMode: "inclusive",
    },
  });
  const {
    register,
    handleSubmit,
    reset,
    setError,
    setValue,
    watch,
    formState: { errors, isDirty },
  } = form;
  const values = newLaunchRequest.parse(watch());
  const restore = useCallback(
    (left: unknown) => {
      const read = newLaunchRequest.safeParse(left);
      if (!read.success) return;
      reset(read.data, { keepDefaultValues: true });
      say("What you filled in here before is back.");
    },
    [reset, say],
  );
  useKeptDraft("new-launch", 1, isDirty && !busy ? values : undefined, restore);
  const refuse = (fields: Record<string, string | undefined>) => {
    for (const [name, message] of Object.entries(fields)) setError(name as keyof NewLaunchRequest, { message });
  };
  const submit = handleSubmit(async (request) => {
    setBusy(true);
    const answer = await call(createLaunch, { request });
    if (answer.ok) return location.assign(`/desk/${answer.value.slug}/score`);
    setBusy(false);
    refuse(answer.fields);
    say(answer.message, true);
  });
  const wrong = (name: keyof NewLaunchRequest) => errors[name]?.message;
  const set = <N extends keyof NewLaunchRequest>(name: N) => ({
    value: values[name],
    onChange: (value: NewLaunchRequest[N]) => setValue(name, value as never, { shouldDirty: true }),
  });
  const moment = (name: "opensWall" | "closesWall", label: string, landmarks?: Landmark[]) => (
    <DateTimeField label={label} zone={zone} wrong={wrong(name)} landmarks={landmarks} {...set(name)} />
  );
  const { zone, shape, clock } = values;
  const parts: RuleParts = values.repeats;
  const pages = plannedPages(shape).length;
  const drawn = drawnLaunch(values, deskLocale());
  const emails = drawn?.settings.emails.length ?? 0;
  const closes = resolveWallTime(values.closesWall, zone);
  return (
    <form className={styles.form} onSubmit={submit} noValidate inert={!ready}>
      <div>
        <Field label="Name" wrong={wrong("name")} {...register("name")} />
        <ChoiceCards legend="Shape" choices={shapes} {...set("shape")} />
        <Select label="Timing" options={timings} {...set("clock")} />
        <Combobox
          label="Time zone"
          options={zones}
          hint={isZone(zone) ? `Now ${clockTime(new Date(now), zone)}. Every time of the launch is meant there.` : undefined}
          wrong={wrong("zone")}
          {...set("zone")}
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
              <Field
                label="Stay open for, hours"
                type="number"
                step="any"
                wrong={wrong("openHours")}
                {...register("openHours", { valueAsNumber: true })}
              />
            </div>
            <RepeatFields parts={parts} wrong={errors.repeats?.message} onChange={set("repeats").onChange} />
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
            <Select label="A person’s clock starts" options={triggers} {...set("trigger")} />
            <div className={styles.two}>
              <Field
                label="Each person has, hours"
                type="number"
                step="any"
                wrong={wrong("personHours")}
                {...register("personHours", { valueAsNumber: true })}
              />
              <TimeField
                label="Then until the next"
                hint="Empty: exactly so many hours after the start."
                wrong={wrong("personUntil")}
                {...set("personUntil")}
              />
            </div>
          </>
        )}
        {shape === "list" ? (
          <p className="muted">What is sold, and for how much, is asked when the launch begins to sell.</p>
        ) : (
          <>
            <Field
              label="Main product"
              hint="As the buyer reads it on the page and the receipt."
              wrong={wrong("productName")}
              {...register("productName")}
            />
            <div className={styles.three}>
              <Field label="Price" inputMode="decimal" placeholder="149.00" wrong={wrong("price")} {...register("price")} />
              <Select
                label="Currency"
                options={currencies.map((code) => ({ value: code, label: code }))}
                wrong={wrong("currency")}
                {...set("currency")}
              />
              <Select label="Tax" options={taxModes} {...set("taxMode")} />
            </div>
          </>
        )}
        <p>
          <Button main type="submit" disabled={busy}>
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
      {toast}
    </form>
  );
};
