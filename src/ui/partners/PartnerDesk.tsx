import { decideApplication, setEndorsement } from "../../contract/partners";
import { useState } from "react";
import { shortMoment } from "../../core/words";
import type { Media } from "../../core/pages";
import { Button } from "../kit/Button";
import { CopyText } from "../kit/CopyText";
import { Field } from "../kit/fields/Field";
import { Select } from "../kit/fields/Select";
import { call } from "../kit/data/call";
import { useReady } from "../kit/data/useReady";
import { say } from "../kit/notices";
import { MediaField } from "../pages/fields/MediaField";
import styles from "./PartnerDesk.module.css";

interface Application {
  id: string;
  name: string;
  email: string;
  words: string;
  launch: string;
  at: Date;
}
interface Word {
  name: string;
  note: string;
  media: string | null;
}
interface Props {
  slug: string;
  zone: string;
  applications: Application[];
  partners: { id: string; name: string; code: string }[];
  words: Record<string, Word | undefined>;
  media: Media[];
  /** Where the launch's first page is reached, with the partner's code behind it. */
  link: string;
}

const Waiting = ({
  slug,
  zone,
  one,
  onDone,
  onRefused,
}: {
  slug: string;
  zone: string;
  one: Application;
  onDone: (says: string) => void;
  onRefused: (says: string) => void;
}) => {
  const [rate, setRate] = useState("40");
  const [wrong, setWrong] = useState<string>();
  const decide = async (take: boolean) => {
    const answer = await call(decideApplication, { params: { slug }, request: { id: one.id, take, ...(take ? { rate } : {}) } });
    if (answer.ok)
      return onDone(take ? `${one.name} is a partner now; an email with a link to the portal is on its way.` : `${one.name} was declined.`);
    setWrong(answer.fields["rate"]);
    if (!answer.fields["rate"]) onRefused(answer.message);
  };
  return (
    <li>
      <p>
        <strong>{one.name}</strong>, {one.email}{" "}
        <span className="muted">
          {shortMoment(one.at, zone)}, on a page of {one.launch}
        </span>
      </p>
      <p className={styles.words}>{one.words}</p>
      <div className={styles.take}>
        <Field label="Commission, %" inputMode="decimal" value={rate} wrong={wrong} onChange={(event) => setRate(event.currentTarget.value)} />
        <Button main onClick={() => void decide(true)}>
          Take as a partner
        </Button>
        <Button onClick={() => void decide(false)}>Decline</Button>
      </div>
    </li>
  );
};

/** Who asks to become a partner, and what the pages say in the partners' names. */
export const PartnerDesk = ({ slug, zone, applications, partners, words, media: first, link }: Props) => {
  const ready = useReady();
  const [waiting, setWaiting] = useState(applications);
  const [media, setMedia] = useState(first);
  const [kept, setKept] = useState(words);
  const [who, setWho] = useState(partners[0]?.id ?? "");
  const [draft, setDraft] = useState<Record<string, Word>>({});
  const [wrong, setWrong] = useState<Record<string, string>>({});
  const partner = partners.find(({ id }) => id === who);
  const word = draft[who] ?? kept[who] ?? { name: partner?.name ?? "", note: "", media: null };
  const change = (next: Partial<Word>) => setDraft({ ...draft, [who]: { ...word, ...next } });
  const save = async () => {
    const answer = await call(setEndorsement, { params: { slug }, request: { partner: who, ...word } });
    if (!answer.ok) {
      setWrong(answer.fields);
      return Object.keys(answer.fields).length === 0 && say(answer.message, true);
    }
    setWrong({});
    setKept({ ...kept, [who]: word.note ? word : undefined });
    say(word.note ? `Who comes by ${word.name || partner!.name}’s link reads it now.` : "The word is gone from the pages.");
  };
  return (
    <div inert={!ready} className={styles.desk}>
      <section aria-label="Applications">
        <h2>Applications</h2>
        {waiting.length === 0 ? (
          <p className="muted">Nobody waits. Pages with the block Partner invitation ask their readers.</p>
        ) : (
          <ul>
            {waiting.map((one) => (
              <Waiting
                key={one.id}
                slug={slug}
                zone={zone}
                one={one}
                onRefused={(says) => say(says, true)}
                onDone={(says) => {
                  setWaiting((all) => all.filter(({ id }) => id !== one.id));
                  say(says);
                }}
              />
            ))}
          </ul>
        )}
      </section>
      {partner && (
        <section aria-label="Partners’ words">
          <h2>Endorsements on the pages</h2>
          <p className="muted">Pages with the block Partner’s word show it to those who come by that partner’s link, and to nobody else.</p>
          <Select
            label="Partner"
            value={who}
            options={partners.map(({ id, name }) => ({ value: id, label: kept[id] ? `${name}, has a word` : name }))}
            onChange={(picked) => setWho(picked)}
          />
          <Field
            label="Name as it stands there"
            value={word.name}
            wrong={wrong["name"]}
            onChange={(event) => change({ name: event.currentTarget.value })}
          />
          <Field
            label="What they say"
            rows={3}
            value={word.note}
            wrong={wrong["note"]}
            onChange={(event) => change({ note: event.currentTarget.value })}
          />
          <MediaField
            label="Picture of them"
            kind="picture"
            value={word.media}
            all={media}
            wrong={wrong["media"]}
            onMedia={(one) => setMedia([one, ...media.filter(({ id }) => id !== one.id)])}
            onChange={(id) => change({ media: id })}
          />
          <p className={styles.take}>
            <Button main onClick={() => void save()}>
              {word.note || !kept[who] ? "Show it to who comes by their link" : "Take it off the pages"}
            </Button>
          </p>
          <CopyText what={`the link of ${partner.name}`} text={`${link}?p=${partner.code}`} />
        </section>
      )}
    </div>
  );
};
