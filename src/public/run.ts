import { type EpisodeView, type LiveView } from "../core/launch";
import type { Locale } from "../core/money";
import { clockTime, fullMoment, nearMoment, publicWords, shortMoment, zoneCity } from "../core/words";
import { addressOf, liveForm, type BlockOf, type Hole } from "../core/pages";
import type { CommentFacts, PageFacts } from "./facts";
import { askedNotice, field, optInForm, ownForm, placeOf, trap, wrong, aria } from "./forms";
import { html, type Html } from "./html";

const longest = 2 ** 31 - 1;
/** Milliseconds until an instant, where a browser's timer reaches that far. */
const waits = (now: Date, at: Date | undefined): number | undefined => {
  const ms = at ? at.getTime() - now.getTime() : 0;
  return ms > 0 && ms < longest ? ms : undefined;
};

/** When a locked episode opens for who looks, in words. */
export const opensWords = ({ opensAt, awaits }: EpisodeView, { now, plan, locale }: Pick<PageFacts, "now" | "plan" | "locale">): string => {
  const w = publicWords(locale).run;
  return awaits === "opt_in" ? w.opensOnList : opensAt ? w.opens(nearMoment(opensAt, now, plan.zone)) : w.opensWithYou;
};

/** How an open episode stands; a live session says when it is. */
const openWord = ({ live }: EpisodeView, { now, plan, locale }: PageFacts, word = publicWords(locale).run.open): string => {
  const w = publicWords(locale).run;
  return live?.phase === "before" ? w.live(nearMoment(live.starts, now, plan.zone)) : live?.phase === "joining" ? w.liveNow : word;
};

/** The run of episodes: the one that plays, those that are open, and when the others open. Locked ones are no links. */
export const episodeList = (heading: string, facts: PageFacts): Html | undefined => {
  const { plan, seen, key, now, locale } = facts;
  const w = publicWords(locale).run;
  if (seen.episodes.length === 0) return undefined;
  const rows = seen.episodes.map((episode) => {
    const { page, number, open } = episode;
    const href = addressOf(plan.slug, page);
    const count = html`<b>${number}</b>`;
    if (page.key === key)
      return html`<li class="now" aria-current="page">${count}<span>${page.title}</span><em>${openWord(episode, facts, w.playing)}</em></li>`;
    if (open) return html`<li>${count}<a href="${href}">${page.title}</a><em>${openWord(episode, facts)}</em></li>`;
    const wait = waits(now, episode.opensAt);
    return html`<li class="shut"${wait && html` data-opens="${wait}" data-href="${href}"`}>${count}<span>${page.title}</span><em>${opensWords(episode, facts)}</em></li>`;
  });
  const timed = seen.episodes.some(({ open, opensAt }) => !open && opensAt);
  return html`<nav class="run" aria-label="${heading || w.episodes}">${heading && html`<h2>${heading}</h2>`}<ol>${rows}</ol>${timed && html`<p class="fine">${w.timesOf(zoneCity(plan.zone))}</p>`}</nav>`;
};

/** What is said where the address of a locked episode was asked for. */
export const lockedSentence = (locked: EpisodeView, { plan, locale }: Pick<PageFacts, "plan" | "locale">): string => {
  const w = publicWords(locale).run;
  const { title } = locked.page;
  if (locked.awaits === "opt_in") return w.lockedForList(title);
  if (!locked.opensAt) return w.lockedToYou(title);
  return w.locked(title, fullMoment(locked.opensAt, plan.zone), zoneCity(plan.zone));
};

const recording = ({ block, film, captions }: Extract<Hole, { kind: "live" }>, page: string, live: LiveView, zone: string, locale: Locale): Html => {
  const { run: w, forms } = publicWords(locale);
  if (!live.replay || !film) return html`<p>${w.sessionOver}${live.replay && !film && ` ${w.recordingComes}`}</p>`;
  const until = live.replayUntil && html`<p class="fine">${w.recordingStays(shortMoment(live.replayUntil, zone), zoneCity(zone))}</p>`;
  return html`<div class="film"><video controls preload="none" playsinline data-film="${page} ${block.id}" aria-label="${block.heading || w.recording}" src="${film}">${
    captions && html`<track kind="captions" srclang="en" label="${forms.captions}" src="${captions}" default />`
  }</video></div>${until}`;
};

/** The live session of the page's episode, as it stands at this instant: to come, open, or over. */
export const liveSession = (hole: Extract<Hole, { kind: "live" }>, facts: PageFacts): Html | undefined => {
  const { plan, seen, key, now, extras, locale } = facts;
  const w = publicWords(locale).run;
  const { block } = hole;
  const live = seen.episodes.find(({ page }) => page.key === key)?.live;
  if (!live) return undefined;
  const base = `/l/${plan.slug}`;
  const heading = block.heading && html`<h3>${block.heading}</h3>`;
  const moment = html`<p><strong>${fullMoment(live.starts, plan.zone)}</strong>${w.session(zoneCity(plan.zone), clockTime(live.ends, plan.zone))}</p>`;
  if (live.phase === "over") return html`<div class="box">${heading}${recording(hole, key, live, plan.zone, locale)}</div>`;
  const calendar = html`<a class="plain" href="${base}/calendar/${key}.ics" download>${w.toCalendar}</a>`;
  if (!extras.registered) {
    if (facts.asked === block.id) return html`<div class="box">${heading}${moment}${askedNotice(locale)}</div>`;
    const { values, errors, said: own } = ownForm(facts, block.id);
    const form = { action: `${base}/do/opt-in`, place: placeOf(facts, block.id), block: liveForm(block), consent: facts.consent, locale };
    return optInForm({ ...form, lead: html`${moment}${own}` }, values, errors);
  }
  if (live.phase === "joining")
    return html`<div class="box">${heading}${moment}<a class="go" href="${base}/live/${key}">${block.join}</a>${block.note && html`<p class="fine">${block.note}</p>`}</div>`;
  const wait = waits(now, live.joinFrom);
  return html`<div class="box"${wait && html` data-again="${wait}"`}>${heading}${moment}<p role="status">${w.haveAPlace(shortMoment(live.joinFrom, plan.zone))}</p>${calendar}</div>`;
};

/** Another launch of the vendor's: its price and its doors as its own pages show them. Closed, it leaves no trace. */
export const crossOffer = ({ block, picture }: Extract<Hole, { kind: "cross" }>, { extras }: PageFacts): Html | undefined => {
  const other = extras.cross?.[block.launch];
  if (!other) return undefined;
  return html`<aside class="bump cross">${picture && html`<img src="${picture}" alt="" loading="lazy" />`}<div><h3>${other.name}</h3>${block.words && html`<p>${block.words}</p>`}<p><strong>${other.price ?? other.opens}</strong></p><a class="plain" href="${other.href}">${block.button}</a></div></aside>`;
};

/** What the partner says who sent this reader. Who came on their own sees nothing. */
export const partnerWord = (words: string, { extras: { partner } }: PageFacts): Html | undefined =>
  partner &&
  html`<figure class="say">${partner.picture && html`<img src="${partner.picture}" alt="" width="72" height="72" />`}<blockquote>${partner.note}</blockquote><figcaption>${words} <strong>${partner.name}</strong></figcaption></figure>`;

/** Asks readers to become partners, and takes their word. */
export const invitation = (block: BlockOf<"invitation">, facts: PageFacts): Html => {
  const { plan, extras, locale } = facts;
  const { run: w, forms } = publicWords(locale);
  const { values, errors, said: own } = ownForm(facts, block.id);
  if (extras.said === block.id)
    return html`<div class="notice" role="status" id="talk-${block.id}"><p><strong>${w.thanks}</strong> ${w.applicationRead}</p></div>`;
  return html`<form method="post" action="/l/${plan.slug}/do/partner" class="box" id="talk-${block.id}" data-once novalidate>
    ${block.heading && html`<h3>${block.heading}</h3>`}${block.words && html`<p>${block.words}</p>`}${placeOf(facts, block.id)}${own}
    ${field("name", forms.yourName, "text", "name", values, errors)}${field("email", forms.email, "email", "email", values, errors)}<label>${w.whom}<textarea name="words" rows="2" maxlength="1000" required${aria(errors, "words")}>${values["words"] ?? ""}</textarea>${wrong(errors, "words")}</label>${trap(locale)}<button class="plain">${block.button}</button>
  </form>`;
};

const comment = ({ name, at, body, reply }: CommentFacts, vendor: string, zone: string): Html =>
  html`<li><p class="by"><strong>${name}</strong> <time datetime="${at.toISOString()}">${shortMoment(at, zone)}</time></p><p>${body}</p>${
    reply && html`<p class="reply"><strong>${vendor}</strong> ${reply}</p>`
  }</li>`;

/** What people said, the newest first, and a form to say something. The vendor reads it before it is shown. */
export const comments = (block: BlockOf<"comments">, facts: PageFacts): Html => {
  const { plan, vendor, extras, locale } = facts;
  const w = publicWords(locale).run;
  const shown = extras.comments?.[block.scope] ?? [];
  const { values, errors, said: own } = ownForm(facts, block.id);
  const said = extras.said === block.id;
  const form = said
    ? html`<div class="notice" role="status"><p><strong>${w.thanks}</strong> ${w.commentRead}</p></div>`
    : html`<form method="post" action="/l/${plan.slug}/do/comment" class="box" data-once novalidate>
        ${placeOf(facts, block.id)}${own}
        <label>${block.ask || w.ask}<textarea name="body" rows="3" maxlength="2000" required${aria(errors, "body")}>${values["body"] ?? ""}</textarea>${wrong(errors, "body")}</label>${field("name", w.commentName, "text", "name", values, errors)}${trap(locale)}<button class="plain">${block.button}</button>
      </form>`;
  return html`<section class="talk" id="talk-${block.id}">${block.heading && html`<h2>${block.heading}</h2>`}${
    shown.length > 0 && html`<ol>${shown.map((one) => comment(one, vendor, plan.zone))}</ol>`
  }${form}</section>`;
};
