import { useState } from "react";
import { useForm } from "react-hook-form";
import { zodResolver } from "@hookform/resolvers/zod";
import { z } from "zod";
import { fullMoment, newLaunchRequest, planNewLaunch, resolveWallTime, wallTimeRemark, type NewLaunchRequest } from "../../core/launch";
import { currencies } from "../../core/money";
import { Button } from "../kit/Button";
import { Field } from "../kit/Field";
import { Select } from "../kit/Select";
import { send } from "../kit/send";
import { useToast } from "../kit/Toast";
import styles from "./NewLaunchForm.module.css";

const created = z.object({ slug: z.string(), remarks: z.array(z.string()) });

/** What a wall time means in the zone, said while it is typed. */
const meaning = (typed: string | undefined, zone: string): string | undefined => {
  if (!typed) return undefined;
  const resolved = resolveWallTime(typed, zone);
  if (!("instant" in resolved)) return undefined;
  return wallTimeRemark(resolved, zone) ?? `${fullMoment(resolved.instant, zone)}, that is ${fullMoment(resolved.instant, "UTC")} UTC.`;
};

/** Starts a launch: name, zone, two wall times, product and price. */
export const NewLaunchForm = ({ zones }: { zones: string[] }) => {
  const { say, toast } = useToast();
  const [busy, setBusy] = useState(false);
  const form = useForm<NewLaunchRequest>({
    resolver: zodResolver(newLaunchRequest),
    defaultValues: {
      name: "",
      zone: "Europe/Lisbon",
      opensWall: "",
      closesWall: "",
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
    watch,
    formState: { errors },
  } = form;
  const refuse = (fields: Record<string, string | undefined>) => {
    for (const [name, message] of Object.entries(fields)) setError(name as keyof NewLaunchRequest, { message });
  };
  const submit = handleSubmit(async (request) => {
    const planned = planNewLaunch(request);
    if ("errors" in planned) return refuse(planned.errors);
    setBusy(true);
    const answer = await send("/api/desk/launches", request, created);
    if (answer.ok) return location.assign(`/desk/${answer.value.slug}/score`);
    setBusy(false);
    refuse(answer.fields);
    say(answer.message, true);
  });
  const [zone, opens, closes] = watch(["zone", "opensWall", "closesWall"]);
  const wrong = (name: keyof NewLaunchRequest) => errors[name]?.message;
  return (
    <form className={styles.form} onSubmit={submit} noValidate>
      <fieldset>
        <legend>The launch</legend>
        <Field label="Name" wrong={wrong("name")} {...register("name")} />
        <Field
          label="Time zone"
          list="zones"
          hint="A zone of the IANA database. Both bells are wall times there."
          wrong={wrong("zone")}
          {...register("zone")}
        />
        <datalist id="zones">
          {zones.map((name) => (
            <option key={name} value={name} />
          ))}
        </datalist>
        <div className={styles.two}>
          <Field label="Doors open" type="datetime-local" wrong={wrong("opensWall")} hint={meaning(opens, zone)} {...register("opensWall")} />
          <Field label="Doors close" type="datetime-local" wrong={wrong("closesWall")} hint={meaning(closes, zone)} {...register("closesWall")} />
        </div>
      </fieldset>
      <fieldset>
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
      <p className="muted">Six pages are made from templates. Nothing is public, and nothing can be charged, before you publish them.</p>
      <p>
        <Button main type="submit" disabled={busy}>
          Start the launch
        </Button>
      </p>
      {toast}
    </form>
  );
};
