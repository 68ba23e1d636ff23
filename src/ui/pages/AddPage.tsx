import { useState } from "react";
import { z } from "zod";
import { Button } from "../kit/Button";
import { Field } from "../kit/Field";
import { send } from "../kit/send";
import { useReady } from "../kit/useReady";
import { useToast } from "../kit/Toast";
import styles from "./PageEditor.module.css";

/** Adds a page of the vendor's own; a slash in its address makes a folder, which gates and countdowns can cover whole. */
export const AddPage = ({ slug }: { slug: string }) => {
  const { say, toast } = useToast();
  const ready = useReady();
  const [address, setAddress] = useState("");
  const [headline, setHeadline] = useState("");
  const [wrong, setWrong] = useState<Record<string, string>>({});
  const add = async () => {
    const answer = await send(`/api/desk/${slug}/page`, { address, headline }, z.object({ id: z.string() }));
    if (answer.ok) return location.assign(`/desk/${slug}/pages/${address.trim().toLowerCase()}`);
    setWrong(answer.fields);
    if (Object.keys(answer.fields).length === 0) say(answer.message, true);
  };
  return (
    <form
      className={styles.add}
      inert={!ready}
      noValidate
      onSubmit={(event) => {
        event.preventDefault();
        void add();
      }}
    >
      <h2>A page of your own</h2>
      <Field
        label={`Address below /${slug}/`}
        placeholder="bonus/pattern-one"
        value={address}
        wrong={wrong["address"]}
        hint="A slash makes a folder; gates and countdowns can hold for a whole folder."
        onChange={(event) => setAddress(event.currentTarget.value)}
      />
      <Field label="Headline" value={headline} wrong={wrong["headline"]} onChange={(event) => setHeadline(event.currentTarget.value)} />
      <p>
        <Button type="submit">Add the page</Button>
      </p>
      {toast}
    </form>
  );
};
