import { templates, type PageContent } from "../src/core/pages";
import type { PageKind } from "../src/core/launch";

/** The made-up vendor's pages. */
export const demoWords: Record<"gansey" | "yoke" | "primer", Record<PageKind, PageContent>> = {
  primer: {
    ...templates("The Cast-On Primer"),
    optin: {
      headline: "Eleven ways to cast on, and when to use which.",
      text: "Leave your address and the Cast-On Primer is yours to look into. For three days you can have it at the price of a ball of yarn.",
      button: "Open it for me",
    },
    sales: {
      headline: "Cast on once, and well.",
      text: "Forty pages and eleven short films: long-tail, tubular, provisional, channel island, and seven more, each with the edge it makes after ten rows.",
      button: "Get the Primer",
    },
    closed: {
      headline: "Your three days are over.",
      text: "The Primer is not sold to you at this price any more. Leave your address and you will hear of the next workshop.",
      button: "Write to me",
    },
  },
  gansey: {
    content: {
      headline: "How a gansey is built.",
      text: "No seams, no waste, no row that cannot be knitted in the dark.",
      button: "Go on",
    },
    optin: {
      headline: "A sweater that has kept fishermen dry for two hundred years.",
      text: "The Gansey Workshop opens for six days. Leave your address: you get the day and the hour, and three short films on how a gansey is built.",
      button: "Write to me when it opens",
    },
    sales: {
      headline: "Knit the sweater that kept fishermen dry.",
      text: "The Gansey Workshop takes you from a cast-on of 280 stitches to a finished, fitted gansey: the gusset under the arm, the patterned yoke, and the initials above the welt. One week for each part, with a chart you draw yourself.",
      button: "Keep my seat at the workshop",
    },
    checkout: {
      headline: "Your seat at the workshop",
      text: "Paid once. The receipt comes by email, the first lesson with it.",
      button: "Pay and keep my seat",
    },
    offer: {
      headline: "240 stitches for the yoke you will draw.",
      text: "In week four you draw your own chart. The Stitch Library holds 240 patterns from harbours between the Humber and the Moray Firth, ready to combine. It is offered here, after the order, and not on the shop's pages.",
      button: "Yes, add the Stitch Library",
    },
    thanks: {
      headline: "Thank you. Cast on when you like.",
      text: "Your receipt is on its way. The first lesson needs 5 mm needles and a quiet hour.",
      button: "Back to the workshop's page",
    },
    closed: {
      headline: "The doors are closed.",
      text: "The next workshop comes with the next season. Leave your address and you will be told.",
      button: "Tell me next time",
    },
  },
  yoke: {
    ...templates("Yoke and Colour"),
    sales: { headline: "A round yoke in eleven colours.", text: "Five weeks from the first swatch to a yoke that lies flat.", button: "Take part" },
  },
};

/** The episodes of the workshop's run-up. */
export const demoEpisodes: PageContent[] = [
  {
    headline: "Episode 1: cast on 280 stitches and live.",
    text: "The channel island edge, in the round, without counting twice.",
    button: "To episode 2",
  },
  { headline: "Episode 2: the gusset under the arm.", text: "A diamond of stitches that lets a fisherman haul a net.", button: "To episode 3" },
  { headline: "Episode 3: a yoke that is yours.", text: "Charts from five harbours, and how to draw your own.", button: "To the workshop" },
];
