import type { PlannedPage } from "../src/core/launch";
import { builder, episodePage, firstPage, idsFrom, pageOf, type BlockOf, type Builder, type PageContent, type Section } from "../src/core/pages";
import type { DemoPictures } from "./pictures";

type Pages = Record<string, PageContent>;

const page = (sections: (b: Builder) => Section[]): PageContent => pageOf(sections(builder(idsFrom("b"))));
const shown = (picture: { id: string; alt: string }, change: Partial<BlockOf<"picture">> = {}) => ({
  media: picture.id,
  alt: picture.alt,
  decorative: false,
  ...change,
});

/** A plain page: title, lead, what the page is for, and a picture beside it. */
const plain = (
  title: string,
  lead: string,
  main: (b: Builder) => ReturnType<Builder["form"]> | BlockOf<"price" | "offer" | "checkout">,
  picture?: { id: string; alt: string },
) =>
  page((b) => [
    b.section(
      [
        b.title(title),
        picture ? b.columns([b.lead(lead), main(b)], [b.picture(shown(picture))], { ratio: "left" }) : b.lead(lead),
        ...(picture ? [] : [main(b)]),
      ],
      {
        width: picture ? "normal" : "narrow",
      },
    ),
  ]);

const ganseySales = (pictures: DemoPictures): PageContent => ({
  ...page((b) => [
    b.section([
      b.title("Knit the sweater that kept fishermen dry."),
      b.columns(
        [
          b.lead(
            "The Gansey Workshop takes you from a cast-on of 280 stitches to a finished, fitted gansey: the gusset under the arm, the patterned yoke, and the initials above the welt. One week for each part, with a chart you draw yourself.",
          ),
          b.price("Keep my seat at the workshop"),
        ],
        [
          b.picture(shown(pictures.gansey)),
          b.made("badges", { items: ["Six weeks, six parts", "Charts to print", "Films to keep"], space: "small" }),
        ],
        { ratio: "left" },
      ),
    ]),
    b.section(
      [
        b.heading("Six weeks, one sweater"),
        b.benefits(
          [
            "Cast on 280 stitches in the channel island edge, in the round, without counting twice.",
            "A welt that lies flat, with your initials above it.",
            "The body, without a seam and without waste.",
            "A yoke from a chart you draw yourself.",
            "The gusset under the arm: a diamond that lets a fisherman haul a net.",
            "Sleeves from the shoulder down, so that a worn cuff is knitted anew in an evening.",
          ],
          "number",
        ),
      ],
      { ground: "sunk" },
    ),
    b.section([
      b.columns(
        [
          b.heading("Drawn, not copied"),
          b.text("Harbours had their own ropes, ladders and anchors. In week four you set them together on squared paper, and knit what you drew."),
        ],
        [b.picture(shown(pictures.rope, { shape: "wide" }))],
      ),
    ]),
    b.section([
      b.heading("Before you ask"),
      b.questions([
        ["Do I need to know how to knit?", "Knit and purl are enough. Week one repeats both."],
        ["How long may I watch?", "For good. The charts are yours to print."],
        ["What do I need?", "5 mm needles for the first lesson; the rest is named week by week."],
        ["And if it is not for me?", "Write to us within the time below, and the money goes back."],
      ]),
      b.made("guarantee", { heading: "Time to change your mind", words: "Write to us within this time, and the money goes back the same day." }),
      b.button("Keep my seat at the workshop", { to: "checkout", over: false }),
    ]),
  ]),
  description: "Six weeks from a cast-on of 280 stitches to a finished gansey, with a yoke from a chart you draw yourself.",
  picture: pictures.gansey.id,
});

/** The same page with the word of the partner who sent the reader, under its title. */
const withPartner = (content: PageContent): PageContent => ({
  ...content,
  sections: content.sections.map((section, index) => {
    const { made } = builder(idsFrom("p"));
    return index > 0 ? section : { ...section, blocks: section.blocks.toSpliced(1, 0, made("partner", { words: "You come from" })) };
  }),
});

/** The pages of the made-up vendor's launches, by their keys. */
export const demoPages = (pictures: DemoPictures, chartPaper: string): Record<"gansey" | "yoke" | "primer", Pages> => ({
  gansey: {
    optin: withPartner(
      plain(
        "A sweater that has kept fishermen dry for two hundred years.",
        "The Gansey Workshop opens for six days. Leave your address: you get the day and the hour, and three short films on how a gansey is built.",
        (b) => b.form("Write to me when it opens"),
        pictures.rope,
      ),
    ),
    sales: ganseySales(pictures),
    checkout: page((b) => [
      b.section(
        [
          b.title("Your seat at the workshop"),
          b.lead("Paid once. Your receipt comes by email."),
          b.made("checkout", { pay: "Pay and keep my seat" }),
          b.made("bump", {
            product: chartPaper,
            heading: "Squared paper for your own yoke",
            words: "Sixty sheets at the gauge of the course, ruled five by seven, so that a chart looks like the knitting it will be.",
            tick: "Yes, put the paper in.",
            media: pictures.edge.id,
          }),
        ],
        { width: "narrow" },
      ),
    ]),
    "stitch-library": plain(
      "240 stitches for the yoke you will draw.",
      "In week four you draw your own chart. The Stitch Library holds 240 patterns from harbours between the Humber and the Moray Firth, ready to combine. It is offered here, after the order, and not on the shop's pages.",
      (b) => b.made("offer", { yes: "Yes, add the Stitch Library" }),
      pictures.yoke,
    ),
    "stitch-library-lite": plain(
      "Eighty of them, for a first yoke.",
      "If 240 patterns are too many to choose from: the eighty that knit well at the gauge of the course, each as a chart to print. The other patterns are not part of it.",
      (b) => b.made("offer", { yes: "Yes, add the small library", no: "No, thank you. To my receipt" }),
      pictures.rope,
    ),
    thanks: page((b) => [
      b.section(
        [
          b.title("Thank you. Cast on when you like."),
          b.lead("Your receipt is on its way. Week one asks for 5 mm needles and a quiet hour: have them ready."),
          b.made("receipt", {}),
          b.button("Back to the workshop's page", { to: "next" }, { look: "plain" }),
        ],
        { width: "narrow" },
      ),
      b.section(
        [
          b.made("cross", {
            launch: "primer",
            words: "Eleven ways to begin, each with the edge it makes after ten rows. It goes well beside the first lesson.",
            button: "Look into the Primer",
            media: pictures.edge.id,
          }),
          b.made("invitation", {
            heading: "Do you know others who would knit one?",
            words: "Partners tell their readers of the workshop and earn a share of every seat that comes by them.",
          }),
        ],
        { width: "narrow", ground: "sunk" },
      ),
    ]),
    closed: plain(
      "The doors are closed.",
      "The next workshop comes with the next season. Leave your address and you will be told.",
      (b) => b.form("Tell me next time"),
      pictures.gansey,
    ),
    ...Object.fromEntries(
      (
        [
          ["Episode 1: cast on 280 stitches and live.", "The channel island edge, in the round, without counting twice.", "To episode 2"],
          ["Episode 2: the gusset under the arm.", "A diamond of stitches that lets a fisherman haul a net.", "To episode 3"],
          ["Episode 3: a yoke that is yours.", "Charts from five harbours, and how to draw your own.", "To the workshop"],
        ] as const
      ).map(([title, lead, label], index) => [
        `episodes/${index + 1}`,
        page((b) => [
          b.section([
            b.title(title),
            b.columns(
              [b.lead(lead), b.button(label)],
              [b.picture(shown([pictures.edge, pictures.rope, pictures.yoke][index]!, { shape: "wide" })), b.made("episodes", {})],
              { ratio: "left" },
            ),
          ]),
          b.section([b.made("comments", { heading: "What others say of it", scope: "run" })], { ground: "sunk", width: "narrow" }),
        ]),
      ]),
    ),
    "episodes/4": page((b) => [
      b.section([
        b.title("Live: your chart on the table."),
        b.columns(
          [
            b.lead("Bring a chart that you drew, or only the idea of one. We look at as many as the hour holds."),
            b.made("live", { heading: "One hour, tomorrow evening", note: "The room opens a quarter of an hour before." }),
          ],
          [b.made("episodes", {})],
          { ratio: "left" },
        ),
      ]),
    ]),
    "episodes/5": page((b) => [
      b.section([
        b.title("Episode 5: wash it, block it, wear it."),
        b.columns(
          [b.lead("What wool does in its first bath, and how a gansey is dried to measure."), b.button("To the workshop")],
          [b.made("episodes", {})],
          {
            ratio: "left",
          },
        ),
      ]),
    ]),
  },
  yoke: {
    sales: plain(
      "A round yoke in eleven colours.",
      "Five weeks from the first swatch to a yoke that lies flat.",
      (b) => b.price("Take part"),
      pictures.yoke,
    ),
  },
  primer: {
    optin: plain(
      "Eleven ways to cast on, and when to use which.",
      "Leave your address and the Cast-On Primer is yours to look into. For three days you can have it at the price of a ball of yarn.",
      (b) => b.form("Open it for me"),
      pictures.edge,
    ),
    sales: plain(
      "Cast on once, and well.",
      "Forty pages and eleven short films: long-tail, tubular, provisional, channel island, and seven more, each with the edge it makes after ten rows.",
      (b) => b.price("Get the Primer"),
      pictures.edge,
    ),
    closed: plain(
      "Your three days are over.",
      "The Primer is not sold to you at this price any more. Leave your address and you will hear of the next workshop.",
      (b) => b.form("Write to me"),
    ),
  },
});

/** A page of a launch: the vendor's own where there is one, else what a new launch begins with. */
export const demoPage = (pages: Pages, { key, kind, episode }: PlannedPage, product: string): PageContent =>
  pages[key] ?? (episode ? episodePage(product, episode) : firstPage(kind, product));
