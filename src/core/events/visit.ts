import { z } from "zod";

const mark = z.string().min(1).max(80);

/** What kind of thing a page was seen on. */
export const devices = ["phone", "tablet", "computer"] as const;
export type Device = (typeof devices)[number];

/** Where a visitor was sent from: the marks of the open `utm_*` convention, and the id of the click (`click_id`) that an advert adds. */
export const visitSource = z.object({
  source: mark.optional(),
  medium: mark.optional(),
  campaign: mark.optional(),
  content: mark.optional(),
  term: mark.optional(),
  click: z.string().min(1).max(120).optional(),
});
export type VisitSource = z.infer<typeof visitSource>;

const parameters = {
  source: "utm_source",
  medium: "utm_medium",
  campaign: "utm_campaign",
  content: "utm_content",
  term: "utm_term",
  click: "click_id",
} as const satisfies Record<keyof VisitSource, string>;

/** A text as strangers send it, as it can be kept: without control characters, trimmed, and cut where no character is cut in two. */
export const shortText = (text: string, most: number): string =>
  text
    .replace(/\p{Cc}/gu, "")
    .trim()
    .slice(0, most)
    .replace(/[\uD800-\uDBFF]$/, "");

/** Reads the marks of an address; what is too long is cut, what is missing is left out. */
export const sourceOf = (query: URLSearchParams): VisitSource =>
  Object.fromEntries(
    Object.entries(parameters).flatMap(([name, parameter]) => {
      const text = shortText(query.get(parameter) ?? "", name === "click" ? 120 : 80);
      return text ? [[name, text]] : [];
    }),
  );
