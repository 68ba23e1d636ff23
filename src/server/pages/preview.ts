import { countdownKinds, view } from "../../core/launch";
import { fill } from "../../core/pages";
import { compilePage } from "../../public/compile";
import { countdownBar } from "../../public/countdown";
import { checkoutStartForm, offerForms, optInForm, priceBox, receipt } from "../../public/forms";
import type { Html } from "../../public/html";
import { Page } from "../../store/entities";
import type { EntityManager } from "../../store/orm";
import type { App } from "../app/app";
import { loadBundle, type LaunchBundle } from "../launch/bundle";
import { quote } from "../offers/quote";
import { consentSentence } from "../people/optIn";

const sample = async (app: App, em: EntityManager, bundle: LaunchBundle, page: Page, now: Date): Promise<{ price?: Html; form?: Html }> => {
  const { product, plan } = bundle;
  const { button } = page.draft;
  if (page.kind === "sales") return { price: priceBox(plan.price, product.taxMode, button, "#", product.refundDays) };
  if (page.kind === "checkout") return { form: checkoutStartForm("#", {}, {}) };
  if (page.kind === "offer") {
    const step = bundle.steps.find((other) => other.pageId === page.id);
    const offered = step?.product;
    // Without a product there is no price to show.
    if (!offered) return {};
    return {
      form: offerForms({
        action: "#",
        order: "",
        step: "",
        yes: button,
        amount: await quote(em, offered, "PT", now),
        currency: offered.currency,
        productName: offered.name,
        last4: "0003",
      }),
    };
  }
  if (page.kind === "thanks") {
    const amount = await quote(em, product, "PT", now);
    return {
      form: receipt({
        number: 1000,
        lines: [{ name: product.name, gross: amount.gross, tax: amount.tax }],
        currency: product.currency,
        email: "buyer@example.org",
        again: { href: "#", label: button },
      }),
    };
  }
  return { form: optInForm("#", button, consentSentence(app.config.INKBELL_VENDOR), {}, {}) };
};

/** A page's draft as its visitors would see it, with sample data where an order would stand. Writes nothing. */
export const previewPage = async (app: App, em: EntityManager, pageId: string): Promise<string | undefined> => {
  const page = await em.findOne(Page, { id: pageId });
  const bundle = page && (await loadBundle(em, { id: page.launchId }));
  if (!bundle) return undefined;
  const now = app.clock.now();
  const filled = await sample(app, em, bundle, page, now);
  const compiled = compilePage({ kind: page.kind, content: page.draft, launch: bundle.launch, vendor: app.config.INKBELL_VENDOR });
  const { countdown } = view(bundle.plan, {}, now);
  const bar = countdownKinds.includes(page.kind) ? countdownBar(countdown, bundle.launch.zone, now).text : "";
  // The preview is inert: it runs no script, and shows nothing that is meant for browsers without.
  return fill(compiled, { countdown: bar, price: filled.price?.text, form: filled.form?.text }).replace(
    /<script.*?<\/script>|<noscript>.*?<\/noscript>/g,
    "",
  );
};
