import { createLaunch } from "../../contract/launches";
import { deskLocale } from "../kit/data/numbers";
import { useState } from "react";
import { useForm } from "react-hook-form";
import type { z } from "zod";
import {
  plannedPages,
  newLaunchRequest,
  planNewLaunch,
  requestedRule,
  resolveWallTime,
  wallTimeRemark,
  type LaunchShape,
  type NewLaunchRequest,
  type RuleParts,
} from "../../core/launch";
import { faultSentences, faultsOf, fullMoment, zoneCity } from "../../core/words";
import { currencies } from "../../core/money";
import { Button } from "../kit/Button";
import { Field } from "../kit/fields/Field";
import { Select } from "../kit/fields/Select";
import { call } from "../kit/data/call";
import { useReady } from "../kit/data/useReady";
import { useToast } from "../kit/Toast";
import { NextOpenings, RepeatFields } from "./clock/RepeatFields";
import styles from "./NewLaunchForm.module.css";

/** What a wall time means in the zone, said while it is typed. */
const meaning = (typed: string | undefined, zone: string): string | undefined => {
  if (!typed) return undefined;
  const resolved = resolveWallTime(typed, zone);
  if (!("instant" in resolved)) return undefined;
  return wallTimeRemark(resolved, zone) ?? `${fullMoment(resolved.instant, zone)}, ${zoneCity(zone)} time.`;
};

const shapes: Record<LaunchShape, string> = {
  full: "warms a list first, then sells",
  short: "goes straight to the sales page",
  list: "collects addresses, sells nothing yet",
};

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
    setError,
    setValue,
    watch,
    formState: { errors },
  } = form;
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
  const [zone, opens, closes, shape, clock, repeats, openHours] = watch([
    "zone",
    "opensWall",
    "closesWall",
    "shape",
    "clock",
    "repeats",
    "openHours",
  ]);
  const parts = repeats as RuleParts;
  const wrong = (name: keyof NewLaunchRequest) => errors[name]?.message;
  const pages = plannedPages(shape ?? "full").length;
  return (
    <form className={styles.form} onSubmit={submit} noValidate inert={!ready}>
      <fieldset>
        <legend>The launch</legend>
        <Field label="Name" wrong={wrong("name")} {...register("name")} />
        <div className={styles.two}>
          <Select label="It" options={Object.entries(shapes).map(([value, label]) => ({ value, label }))} {...register("shape")} />
          <Select
            label="Its doors open"
            options={[
              { value: "fixed", label: "once, on dates for everyone" },
              { value: "recurring", label: "recurring, for everyone" },
              { value: "personal", label: "always, with a clock for each person" },
            ]}
            {...register("clock")}
          />
        </div>
        <Field
          label="Time zone"
          list="zones"
          hint="A zone of the IANA database. All wall times are meant there."
          wrong={wrong("zone")}
          {...register("zone")}
        />
        <datalist id="zones">
          {zones.map((name) => (
            <option key={name} value={name} />
          ))}
        </datalist>
        {clock === "fixed" && (
          <div className={styles.two}>
            <Field label="Doors open" type="datetime-local" wrong={wrong("opensWall")} hint={meaning(opens, zone)} {...register("opensWall")} />
            <Field label="Doors close" type="datetime-local" wrong={wrong("closesWall")} hint={meaning(closes, zone)} {...register("closesWall")} />
          </div>
        )}
        {clock === "recurring" && (
          <>
            <div className={styles.two}>
              <Field
                label="Doors open first"
                type="datetime-local"
                wrong={wrong("opensWall")}
                hint={meaning(opens, zone)}
                {...register("opensWall")}
              />
              <Field
                label="And stay open, hours"
                type="number"
                step="any"
                wrong={wrong("openHours")}
                {...register("openHours", { valueAsNumber: true })}
              />
            </div>
            <RepeatFields parts={parts} wrong={errors.repeats?.message} onChange={(next) => setValue("repeats", next)} />
            {opens && (
              <NextOpenings
                first={opens}
                rule={requestedRule({ repeats: parts, opensWall: opens })}
                zone={zone}
                lengthMinutes={Math.round(Number(openHours) * 60)}
                now={now}
              />
            )}
          </>
        )}
        {clock === "personal" && (
          <>
            <Select
              label="A person’s clock starts"
              options={[
                { value: "opt_in", label: "when they join the list" },
                { value: "first_visit", label: "at their first visit" },
                { value: "webhook", label: "when another tool says so, by a signed notice" },
              ]}
              {...register("trigger")}
            />
            <div className={styles.two}>
              <Field
                label="They have, hours"
                type="number"
                step="any"
                wrong={wrong("personHours")}
                {...register("personHours", { valueAsNumber: true })}
              />
              <Field
                label="And then until the next"
                type="time"
                hint="Empty: to the second, so many hours after the start."
                wrong={wrong("personUntil")}
                {...register("personUntil")}
              />
            </div>
          </>
        )}
      </fieldset>
      {shape === "list" && <p className="muted">What is sold, and for how much, is asked when the launch begins to sell.</p>}
      <fieldset hidden={shape === "list"}>
        <legend>What is sold</legend>
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
            {...register("currency")}
          />
          <Select
            label="Tax"
            options={[
              { value: "inclusive", label: "is in the price" },
              { value: "exclusive", label: "is added to it" },
            ]}
            {...register("taxMode")}
          />
        </div>
      </fieldset>
      <p className="muted">
        {pages} pages, their gates, the countdown with its urgent looks, and the emails are laid out from this; all can be changed. Nothing is public,
        and nothing can be charged, before you publish the pages.
      </p>
      <p>
        <Button main type="submit" disabled={busy}>
          Start the launch
        </Button>
      </p>
      {toast}
    </form>
  );
};
