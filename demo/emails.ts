import { usualBellEmails, variantKey, type EmailContent, type SendingLimits } from "../src/core/emails";
import type { EmailSetting, SequenceSetting } from "../src/core/launch";
import { builder, idsFrom, richOf, type Block } from "../src/core/pages";
import type { DemoPictures } from "./pictures";

const hour = 60;

/** Nobody is written to at night, nor more than twice a day. */
export const demoLimits: SendingLimits = { quiet: { from: "22:00", to: "07:30" }, perDay: 2, perMinute: 600 };

const hello = "Hello {first name, else there},";

/** The four emails before the close of the main launch: one has gone, three are to come. */
export const beforeTheClose: EmailSetting[] = [
  { id: "three-days", hangsOn: "closing", minutes: -4 * 24 * hour, time: "18:00", to: "not_bought" },
  { id: "live-tonight", hangsOn: "closing", minutes: -30 * hour, time: null, to: "not_bought" },
  { id: "last-day", hangsOn: "closing", minutes: -16 * hour, time: null, to: "not_bought" },
  { id: "last-hour", hangsOn: "closing", minutes: -hour, time: null, to: "not_bought" },
];

/** The email that went once, because something had to be put right. */
export const correctedChart = "5eedb0a7-2c4e-4b1a-8d37-7e0a41c95f20";

/** What the emails of The Gansey Workshop say. */
export const ganseyEmails = (pictures: DemoPictures): Record<string, EmailContent> => {
  const b = builder(idsFrom("e"));
  const write = (subject: string, preheader: string, blocks: Block[]): EmailContent => ({
    subject,
    preheader,
    sections: [b.section(blocks)],
    text: null,
  });
  const words = (...paragraphs: string[]) => b.made("text", { rich: richOf(paragraphs.join("\n\n")) });
  const countdown = () => b.made("countdown", { form: "card" });
  const seat = (label = "Keep my seat, {price}") => b.button(label, { to: "page", page: "sales" });
  const episode = (n: number, subject: string, first: string, second: string) =>
    write(subject, first, [
      b.title(subject),
      words(hello, first, second),
      b.button(`Watch episode ${n}`, { to: "page", page: `episodes/${n}` }),
      countdown(),
    ]);
  const questions = (subject: string) =>
    write(subject, "Time, wool, and whether a beginner can", [
      b.heading("Three questions, three answers"),
      words(
        hello,
        "“How much time does it take?” Four hours a week. “Which wool?” Any five-ply; the list is on the page. “I have never read a chart.” Nor had Torunn, and hers is done.",
      ),
      b.made("testimonial", {
        quote: "I knitted the yoke twice, and the second one fits like nothing I ever bought.",
        name: "Torunn",
        role: "first gansey",
      }),
      seat("See the whole workshop"),
      countdown(),
    ]);
  return {
    welcome: write("Your place on the list of {launch}", "What comes, and when", [
      b.title("You are on the list."),
      words(
        hello,
        "good to have you here. Before the doors open I will send you three short films: how a gansey was built to last, how to read a chart, and how to find the size that fits.",
        "{what comes next}",
      ),
      countdown(),
      b.button("See what is coming", { to: "next" }),
      words("If somebody sent you here, thank them from me.", "Iva, of Marram & Purl"),
    ]),
    "episode-1": episode(
      1,
      "Why a gansey outlives its owner",
      "five-ply wool, a tight gauge and a cuff that can be knitted anew: this film shows why a working sweater lasts forty years.",
      "It takes eleven minutes. Have your oldest sweater at hand and look at where it went first.",
    ),
    "episode-2": episode(
      2,
      "A chart is read like a page",
      "left to right, right to left, and why the second row is the one where people go wrong.",
      "Below the film is a chart to print. Knit eight rows of it before Friday, if you can.",
    ),
    "episode-3": episode(
      3,
      "From a swatch to your own size",
      "two numbers and one division are all it takes. I do it with the tape measure in the film.",
      "This is the last film before the doors open on {opening}.",
    ),
    "doors-open": write("The doors are open", "240 seats, until {deadline}", [
      b.title("The doors are open."),
      b.made("picture", { media: pictures.gansey.id, alt: "A finished gansey, knitted in navy five-ply wool", decorative: false }),
      words(hello, "{launch} is open until {deadline}. There are 240 seats, because I look at every swatch myself."),
      seat(),
      b.benefits(["Six weeks of films, two a week", "Your size worked out with you", "A chart library to choose your pattern from"]),
      countdown(),
    ]),
    "three-days": questions("What people ask me before they sign up"),
    [variantKey("three-days")]: questions("Four hours a week, and you have never read a chart?"),
    [correctedChart]: write("Row 14 of the chart was wrong. Here is the right one.", "Thank you to the four of you who found it", [
      b.title("Row 14, put right."),
      words(
        hello,
        "four of you wrote that row 14 of the chart below the second film does not meet row 15. You are right: one purl stitch was missing. The chart is mended, and everybody who printed it may print it again.",
      ),
      b.button("Get the right chart", { to: "page", page: "episodes/2" }),
      words("Every chart of the workshop is knitted twice before it goes out. This one, knitted in a hurry, was not.", "Iva, of Marram & Purl"),
      seat("See the whole workshop"),
    ]),
    "live-tonight": write("Live: bring your chart", "Tonight, and your questions answered", [
      b.title("Bring your chart."),
      words(
        hello,
        "I am live with the charts that you have sent. Come with yours: I will read as many as there is time for.",
        "The doors close on {deadline}.",
      ),
      b.button("Join the live session", { to: "page", page: "episodes/4" }),
      seat("Keep my seat"),
    ]),
    "last-day": write("Tonight the doors close", "{deadline}", [
      b.title("Tonight the doors close."),
      words(
        hello,
        "the workshop takes its last knitters until {deadline}. After that the checkout takes no more orders, and there is no second round this year.",
      ),
      countdown(),
      seat(),
    ]),
    "last-hour": write("Last call, {first name, else and that is it}", "The last email about it", [
      words(hello, "this is the last I write about it. The doors close on {deadline}."),
      countdown(),
      seat("Keep my seat"),
    ]),
  };
};

/** What the emails say of a launch that has none of its own words yet. */
export const plainEmails = (emails: readonly EmailSetting[]): Record<string, EmailContent> => usualBellEmails(emails.map(({ id }) => id));

/** The five steps that follow an opt-in for the always-on primer. */
export const primerSequence: SequenceSetting = {
  id: "first-stitches",
  name: "First stitches",
  from: { on: "opt_in" },
  untilBought: true,
  untilClosed: true,
  steps: [
    { id: "needles", minutes: 2 * hour, time: null, when: null },
    { id: "cast-on", minutes: 12 * hour, time: "08:00", when: null },
    { id: "edges", minutes: 36 * hour, time: "18:00", when: null },
    { id: "questions", minutes: 48 * hour, time: "08:00", when: { none: [{ tag: "Knits for years" }] } },
    { id: "before-it-ends", minutes: 60 * hour, time: null, when: null },
  ],
};

/** What the steps of the primer's sequence say. */
export const primerEmails = (): Record<string, EmailContent> => {
  const b = builder(idsFrom("p"));
  const step = (subject: string, first: string, second: string, label: string): EmailContent => ({
    subject,
    preheader: "",
    sections: [
      b.section([b.made("text", { rich: richOf(`${hello}\n\n${first}\n\n${second}`) }), b.button(label), b.made("countdown", { form: "card" })]),
    ],
    text: null,
  });
  return {
    needles: step(
      "Two needles and a ball of wool",
      "you need no more than that to begin. Thin bamboo holds the stitches better than steel.",
      "The primer shows eleven ways to cast on, each in a film of three minutes.",
      "See what is inside",
    ),
    "cast-on": step(
      "The cast-on that never curls",
      "most beginnings curl because they are knitted too loosely. There is one that cannot.",
      "It is the third film of the primer.",
      "Watch how it is done",
    ),
    edges: step(
      "Edges that hold",
      "an edge is where a sweater wears out first, and the cast-on decides it.",
      "Forty pages of the primer are about edges.",
      "Look into the pages",
    ),
    questions: step(
      "What people ask before they begin",
      "“Am I too old to learn it?” No. “Is one book enough?” For the first year, yes.",
      "You have until {deadline, else the day on the page} at this price.",
      "Get the primer, {price}",
    ),
    "before-it-ends": step(
      "Your days are nearly over",
      "the price that you were offered ends on {deadline, else the day on the page}.",
      "After that the primer waits for you at its usual place.",
      "Get the primer, {price}",
    ),
  };
};
