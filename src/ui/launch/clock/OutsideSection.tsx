import { CopyText } from "../../kit/CopyText";
import { OutsideNotice } from "../OutsideNotice";
import styles from "./Clock.module.css";

interface Props {
  slug: string;
  origin: string;
  calendar: string;
  /** The clock is started by notices of another tool. */
  byNotice: boolean;
  mayChange: boolean;
}

/** What to paste into other places: the countdown's script and picture, the calendar's address, and where notices go. */
export const OutsideSection = ({ slug, origin, calendar, byNotice, mayChange }: Props) => {
  return (
    <section className={styles.section} aria-labelledby="outside">
      <h2 id="outside">On other sites</h2>
      <p className="muted">The countdown on any other page, where this line stands:</p>
      <CopyText what="the script line" text={`<script src="${origin}/_ib/countdown.js" data-launch="${slug}" async></script>`} />
      <p className="muted">As a picture, for emails and places without script. With ?k= and a person’s link it shows their own clock:</p>
      <CopyText what="the picture’s line" text={`<img src="${origin}/c/${slug}.png" width="480" height="120" alt="">`} />
      <p className="muted">The bells in a calendar program, at an address that only you know:</p>
      <CopyText what="the calendar’s address" text={calendar} />
      <p className={styles.actions}>
        <a href={`/desk/${slug}/bells.ics`}>Download the bells as a calendar file</a>
      </p>
      {byNotice && (
        <>
          <p className="muted">Another tool starts a person’s clock:</p>
          <OutsideNotice slug={slug} origin={origin} notice={{ type: "clock.start" }} mayChange={mayChange} />
        </>
      )}
    </section>
  );
};
