import { setLook as changeLook } from "../../contract/launches";
import { useState } from "react";
import type { Look, Media } from "../../core/pages";
import { Button } from "../kit/Button";
import { call } from "../kit/data/call";
import { useReady } from "../kit/data/useReady";
import { say } from "../kit/notices";
import styles from "./editor/editor.module.css";
import { LookFields } from "./fields/LookFields";

interface Props {
  slug: string;
  look: Look;
  media: Media[];
  /** Published pages that follow the launch's look. */
  following: number;
}

/** The look of a launch: changed once, and all its pages follow in one step. */
export const LookDesk = ({ slug, look: first, media: all, following }: Props) => {
  const ready = useReady();
  const [look, setLook] = useState(first);
  const [used, setUsed] = useState(first);
  const [media, setMedia] = useState(all);
  const [wrong, setWrong] = useState<Record<string, string>>({});
  const use = async () => {
    const answer = await call(changeLook, { params: { slug }, request: look });
    if (!answer.ok) {
      setWrong(answer.fields);
      return Object.keys(answer.fields).length === 0 && say(answer.message, true);
    }
    setWrong({});
    setUsed(look);
    say(`${answer.value.pages} published pages wear the new look.`);
    location.reload();
  };
  const same = JSON.stringify(look) === JSON.stringify(used);
  return (
    <section className={styles.newPage} inert={!ready} aria-label="Look of the launch">
      <h2>Look</h2>
      <LookFields
        look={look}
        media={media}
        wrong={wrong}
        onChange={setLook}
        onMedia={(one) => setMedia([one, ...media.filter(({ id }) => id !== one.id)])}
      />
      <p>
        <Button main disabled={same} onClick={() => void use()}>
          {following === 0 ? "Use this look" : `Use it on ${following} published ${following === 1 ? "page" : "pages"}`}
        </Button>
      </p>
    </section>
  );
};
