import { formatAmount } from "../core/money";
import type { PageFacts } from "./facts";
import { Html, html } from "./html";

/** JSON inside a script element: nothing in it may end the element. */
const jsonScript = (data: unknown): Html =>
  new Html(`<script type="application/ld+json">${JSON.stringify(data).replaceAll("<", "\\u003c")}</script>`);

/**
 * What machines read of a page: its one address, what a shared link shows (Open Graph), and on a sales page the product
 * with the price that the checkout takes at this instant (schema.org Product and Offer).
 */
export const metaTags = ({ plan, seen, address, origin, vendor, product, words, now }: PageFacts): Html => {
  const page = "page" in address.answer ? address.answer.page : undefined;
  const canonical = `${origin}/l/${plan.slug}${address.slug ? `/${address.slug}` : ""}`;
  const price = address.price;
  const open = seen.phase === "during";
  const offer =
    page?.kind === "sales" && price
      ? jsonScript({
          "@context": "https://schema.org",
          "@type": "Product",
          name: product.name,
          ...(product.description ? { description: product.description } : {}),
          ...(words.picture ? { image: `${origin}${words.picture}` } : {}),
          brand: { "@type": "Brand", name: vendor },
          offers: {
            "@type": "Offer",
            url: canonical,
            priceCurrency: price.currency,
            price: formatAmount(price.minor, price.currency),
            availability: `https://schema.org/${!open ? "OutOfStock" : seen.seats && seen.seats.left === 0 ? "SoldOut" : "InStock"}`,
            ...(seen.countdown?.to === "closing" && plan.clock.kind === "fixed" && seen.countdown.until > now
              ? { priceValidUntil: (price.rises && "at" in price.rises ? price.rises.at : seen.countdown.until).toISOString().slice(0, 10) }
              : {}),
          },
        })
      : undefined;
  return html`<link rel="canonical" href="${canonical}" />${words.description && html`<meta name="description" content="${words.description}" />`}<meta property="og:type" content="website" /><meta property="og:title" content="${words.title}" />${words.description && html`<meta property="og:description" content="${words.description}" />`}<meta property="og:url" content="${canonical}" /><meta property="og:site_name" content="${vendor}" />${words.picture && html`<meta property="og:image" content="${origin}${words.picture}" />`}${offer}`;
};
