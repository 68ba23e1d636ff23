import { useEffect, useState, type ReactNode } from "react";
import { useForm } from "react-hook-form";
import { zodResolver } from "@hookform/resolvers/zod";
import { z } from "zod";
import { pageContent, type PageContent } from "../../core/pages";
import { Button } from "../kit/Button";
import { Dialog } from "../kit/Dialog";
import { Field } from "../kit/Field";
import { Pane } from "../kit/Pane";
import { send } from "../kit/send";
import { useToast } from "../kit/Toast";
import styles from "./PageEditor.module.css";

interface Props {
  page: { id: string; name: string; draft: PageContent; published: PageContent | null; version: number };
  address: string;
  /** Whose view, at which instant, the preview shows: the query of an address. */
  seen: string;
  /** What else stands below the words. */
  children?: ReactNode;
}

const saved = z.object({ version: z.number() });
const same = (a: PageContent, b: PageContent | null) => b !== null && a.headline === b.headline && a.text === b.text && a.button === b.button;

/** The words of one page beside the page itself. Words save by themselves; publishing is a step of its own. */
export const PageEditor = ({ page, address, seen, children }: Props) => {
  const { say, toast } = useToast();
  const [draft, setDraft] = useState(page.draft);
  const [published, setPublished] = useState(page.published);
  const [version, setVersion] = useState(page.version);
  const [asking, setAsking] = useState(false);
  const [width, setWidth] = useState<"desktop" | "phone">("desktop");
  const {
    register,
    watch,
    trigger,
    setError,
    formState: { errors },
  } = useForm<PageContent>({ resolver: zodResolver(pageContent), defaultValues: page.draft, mode: "onChange" });

  const words = watch();
  const key = JSON.stringify(words);
  useEffect(() => {
    const typed = JSON.parse(key) as PageContent;
    if (same(typed, draft)) return;
    const timer = setTimeout(async () => {
      if (!(await trigger())) return;
      const answer = await send(`/api/desk/pages/${page.id}/draft`, { content: typed, version }, saved);
      if (!answer.ok) {
        for (const [name, message] of Object.entries(answer.fields)) setError(name as keyof PageContent, { message });
        return say(answer.message, true);
      }
      setVersion(answer.value.version);
      setDraft(typed);
    }, 500);
    return () => clearTimeout(timer);
  }, [key, draft, version, page.id, say, setError, trigger]);

  const publish = async () => {
    setAsking(false);
    const answer = await send(`/api/desk/pages/${page.id}/publish`, {}, z.object({}));
    if (!answer.ok) return say(answer.message, true);
    setPublished(draft);
    say(`${page.name} is published at ${address}`);
  };
  const standing = !published
    ? "not published: nobody sees this page"
    : same(draft, published)
      ? "published as it stands"
      : "changed since it was published";
  const clean = Object.keys(errors).length === 0 && same(words, draft);
  return (
    <div className={styles.editor}>
      <div className={styles.preview}>
        <div className={styles.bar} role="group" aria-label="Width of the preview">
          {(["desktop", "phone"] as const).map((kind) => (
            <button key={kind} type="button" aria-pressed={width === kind} onClick={() => setWidth(kind)}>
              {kind === "desktop" ? "Desktop" : "Phone"}
            </button>
          ))}
          <span className="muted">{address}</span>
        </div>
        <div className={styles[width]}>
          <iframe key={`${version}`} title={`Preview of the ${page.name} page`} src={`/desk/preview/${page.id}?v=${version}&${seen}`} sandbox="" />
        </div>
      </div>
      <Pane title="Words">
        <form onSubmit={(event) => event.preventDefault()} noValidate>
          <p className={published && same(draft, published) ? styles.good : styles.open} data-standing>
            {standing}
          </p>
          <Field label="Headline" wrong={errors.headline?.message} {...register("headline")} />
          <Field label="Text" rows={8} wrong={errors.text?.message} {...register("text")} />
          <Field label="Button says" hint="What happens when it is pressed." wrong={errors.button?.message} {...register("button")} />
          <p className={styles.save}>
            <Button main disabled={!clean || same(draft, published)} onClick={() => setAsking(true)}>
              {published ? "Publish the changes" : "Publish this page"}
            </Button>
            <span className="muted" role="status">
              {clean ? `Saved, version ${version}` : "Saving…"}
            </span>
          </p>
        </form>
        {children}
      </Pane>
      {asking && (
        <Dialog title={`Publish ${page.name}`} confirm="Publish 1 page" onConfirm={publish} onClose={() => setAsking(false)}>
          <p>
            From now on everyone who comes to {address} while its gate is open sees these words
            {page.name === "Checkout" ? ", and cards can be charged there" : ""}.
          </p>
        </Dialog>
      )}
      {toast}
    </div>
  );
};
