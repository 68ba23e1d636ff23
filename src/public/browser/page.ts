// The whole script of the public pages: countdown, card frame, one submission per press.
import { countdownFigure } from "../../core/launch/view/figure";

type Stage = [leftMs: number, look: string, words: string];
let moving = false;

/** Ticks on the server's time: only the time passed since the answer is measured here, by a clock that nobody can set. */
const tick = (block: HTMLElement): void => {
  const left = Number(block.dataset["until"]) - Number(block.dataset["now"]);
  const stages = JSON.parse(block.dataset["stages"] ?? "[]") as Stage[];
  const started = performance.now();
  const figure = block.querySelector("b")!;
  const words = block.querySelector("[data-words]");
  const said = block.querySelector("[data-said]")!;
  let look = stages.filter(([ms]) => left <= ms).pop();
  const show = (): void => {
    const ms = left - (performance.now() - started);
    figure.textContent = countdownFigure(ms);
    const stage = stages.filter(([from]) => ms <= from).pop();
    if (stage && stage !== look && words) {
      block.classList.remove(look?.[1] ?? "quiet");
      block.classList.add(stage[1]);
      words.textContent = stage[2];
      look = stage;
    }
    // Said once, at the second at which the figure shows it.
    const minutes = Math.ceil(ms / 1000) / 60;
    if ([60, 10, 1].includes(minutes)) said.textContent = minutes === 1 ? "1 minute left" : `${minutes} minutes left`;
    if (ms > 0) return void setTimeout(show, ms % 1000 || 1000);
    // At zero the address answers another page; spread, so that a crowd does not arrive at once.
    if (!moving) setTimeout(() => location.reload(), 150 + Math.random() * 3000);
    moving = true;
  };
  show();
};
document.querySelectorAll<HTMLElement>("[data-until]").forEach(tick);

// So that emails come at a decent hour where their reader is.
document.querySelectorAll<HTMLInputElement>("[data-zone]").forEach((field) => (field.value = Intl.DateTimeFormat().resolvedOptions().timeZone));

// A short wait is one browser's own; a long one ends for a crowd at once, so it is spread.
document.querySelectorAll<HTMLElement>("[data-again]").forEach((block) => {
  const ms = Number(block.dataset["again"]);
  setTimeout(() => location.reload(), ms + (ms > 10_000 ? Math.random() * 3000 : 0));
});

// An episode that opens while the page stands becomes a link; a film that plays meanwhile plays on.
document.querySelectorAll<HTMLElement>("[data-opens]").forEach((row) =>
  setTimeout(() => {
    const [title, state] = [row.querySelector("span")!, row.querySelector("em")!];
    const link = document.createElement("a");
    link.href = row.dataset["href"]!;
    link.textContent = title.textContent;
    title.replaceWith(link);
    state.textContent = "open";
    row.classList.remove("shut");
  }, Number(row.dataset["opens"])),
);

// What was watched of a film, in quarters: seconds that played, not where the playhead was put.
document.querySelectorAll<HTMLVideoElement>("video[data-film]").forEach((film) => {
  let told = 0;
  film.addEventListener("timeupdate", () => {
    let seconds = 0;
    for (let i = 0; i < film.played.length; i += 1) seconds += film.played.end(i) - film.played.start(i);
    // The last frame's time is rarely played to its end.
    const quarters = Math.floor(((seconds + 0.4) / film.duration) * 4);
    if (!(quarters > told)) return;
    told = Math.min(quarters, 4);
    navigator.sendBeacon(
      `/l/${location.pathname.split("/")[2]}/do/watched`,
      new URLSearchParams({ film: film.dataset["film"]!, quarters: String(told) }),
    );
  });
});

// A box that must be ticked is asked for before anything is sent: a card that was typed would be lost on the way.
document.querySelectorAll<HTMLFormElement>("form[data-card-form]").forEach((form) =>
  form.addEventListener(
    "submit",
    (event) => {
      const open = [...form.querySelectorAll<HTMLInputElement>("[data-must]")].filter((box) => !box.checked);
      form.querySelectorAll("[data-said-must]").forEach((one) => one.remove());
      open.forEach((box) => {
        const said = document.createElement("span");
        said.className = "wrong";
        said.setAttribute("role", "alert");
        said.dataset["saidMust"] = "";
        said.textContent = box.dataset["must"]!;
        box.closest("label")!.after(said);
      });
      if (!open[0]) return;
      open[0].focus();
      event.preventDefault();
      event.stopImmediatePropagation();
    },
    true,
  ),
);

const sent = new WeakSet<HTMLFormElement>();
document.querySelectorAll<HTMLFormElement>("form[data-once]").forEach((form) =>
  form.addEventListener("submit", (event) => {
    if (sent.has(form)) return event.preventDefault();
    sent.add(form);
    // After the browser has collected the fields: a disabled button would not be sent along.
    setTimeout(() => form.querySelectorAll("button").forEach((button) => (button.disabled = true)));
  }),
);
// Back from the next page out of the browser's memory: the forms are usable again.
addEventListener("pageshow", (event) => event.persisted && location.reload());

document.querySelectorAll<HTMLFormElement>("form[data-card-form]").forEach((form) => {
  const frame = form.querySelector("iframe");
  if (!frame) return;
  const token = form.querySelector<HTMLInputElement>("[name=cardToken]")!;
  const wrong = form.querySelector("[data-card-wrong]")!;
  const origin = new URL(frame.src).origin;
  addEventListener("message", (event: MessageEvent<{ cardToken?: string; cardError?: string }>) => {
    if (event.origin !== origin || event.source !== frame.contentWindow) return;
    wrong.textContent = event.data.cardError ?? "";
    if (!event.data.cardToken) return;
    token.value = event.data.cardToken;
    form.requestSubmit();
  });
  form.addEventListener(
    "submit",
    (event: SubmitEvent) => {
      // Who pays with the card that is known needs no other; where nothing is to be paid there is none.
      if (token.value || event.submitter?.hasAttribute("data-stored")) return;
      event.preventDefault();
      event.stopImmediatePropagation();
      frame.contentWindow?.postMessage({ ask: "cardToken" }, origin);
    },
    true,
  );
});

// The order is summed anew by the server, and only the sums change here, so that a card half typed stays.
const sums = async (answer: Response): Promise<void> => {
  const page = new DOMParser().parseFromString(await answer.text(), "text/html");
  const fresh = page.querySelectorAll("[data-sum]");
  const old = document.querySelectorAll("[data-sum]");
  // Another account takes the card, or none is asked for any more: that is another page.
  const [field, before] = [page, document].map((one) => one.querySelector("iframe.cardfield")?.getAttribute("src"));
  if (!answer.ok || fresh.length !== old.length || field !== before) throw new Error("no sums");
  old.forEach((one, index) => {
    const next = fresh[index]!;
    // A box that was ticked stays ticked.
    one.querySelectorAll<HTMLInputElement>("input:checked").forEach(({ name }) => {
      const box = next.querySelector<HTMLInputElement>(`input[name="${name}"]`);
      if (box) box.checked = true;
    });
    one.replaceWith(next);
  });
  // What this press began is known to the other forms from now on.
  const known = page.querySelector<HTMLInputElement>("input[name=checkout]")?.value ?? "";
  document.querySelectorAll<HTMLInputElement>("input[name=checkout]").forEach((one) => (one.value = known));
};
// The tax follows the country while it is chosen, on a page that asks for all at once.
const summedFor = (form: HTMLFormElement): Promise<Response> => {
  const value = (name: string): string => form.querySelector<HTMLInputElement>(`[name=${name}]`)?.value ?? "";
  const query = new URLSearchParams({
    ...Object.fromEntries(new URLSearchParams(location.search)),
    country: value("country"),
    vat: value("vatNumber"),
    region: value("region"),
  });
  return fetch(`${location.pathname}?${query}`);
};
const follow = (form: HTMLFormElement): void => {
  summedFor(form)
    .then(sums)
    .catch(() => undefined);
};
document.addEventListener("change", ({ target }) => {
  const field = target as HTMLInputElement;
  if (field.matches("[data-live]")) follow(field.form!);
});
// Chosen before this script was there, or brought back by the browser: the sums are those of another place.
const chosenSince = [...document.querySelectorAll<HTMLSelectElement>("select[data-live]")].find(
  ({ options, value }) => ([...options].find((one) => one.defaultSelected) ?? options[0])?.value !== value,
);
if (chosenSince) follow(chosenSince.form!);
// What stands in the order form and sends a form of its own: bumps, choices, a code.
const post = async (form: HTMLFormElement): Promise<Response> => {
  const answer = await fetch(form.action, { method: "POST", body: new URLSearchParams(new FormData(form) as never) });
  // Where nobody has said yet where they are, it is the country that is chosen at the moment that counts.
  const live = document.querySelector<HTMLInputElement>("[data-live]")?.form;
  return live && answer.ok ? summedFor(live) : answer;
};
document.addEventListener("change", ({ target }) => {
  const { form } = target as HTMLInputElement;
  if (!form?.matches("[data-bump]")) return;
  post(form)
    .then(sums)
    // What went wrong stands on the page that the form itself is answered with.
    .catch(() => form.submit());
});
document.addEventListener("submit", (event) => {
  const form = event.target as HTMLFormElement;
  if (!form.matches("[data-code]")) return;
  event.preventDefault();
  const place = () => document.querySelector("[data-sum=coupon]")!;
  post(form)
    .then(async (answer) => {
      if (answer.ok) return sums(answer);
      // A code that is refused says so at its field; the sums stay as they are.
      place().replaceWith(new DOMParser().parseFromString(await answer.text(), "text/html").querySelector("[data-sum=coupon]")!);
    })
    .then(() => (place().querySelector<HTMLElement>("[aria-invalid]") ?? place().querySelector<HTMLElement>("button, summary"))?.focus())
    .catch(() => form.submit());
});

// Forms that stand over the page. Without script the address alone opens them.
const openOver = (id: string): boolean => {
  const dialog = document.getElementById(id);
  if (!(dialog instanceof HTMLDialogElement)) return false;
  dialog.removeAttribute("open");
  dialog.showModal();
  return true;
};
document
  .querySelectorAll<HTMLAnchorElement>("a[data-over]")
  .forEach((link) => link.addEventListener("click", (event) => openOver(link.dataset["over"]!) && event.preventDefault()));
document.querySelectorAll<HTMLAnchorElement>("[data-shut]").forEach((link) =>
  link.addEventListener("click", (event) => {
    event.preventDefault();
    link.closest("dialog")?.close();
    if (location.hash.startsWith("#over-")) history.replaceState(null, "", location.pathname + location.search);
  }),
);
const opened = document.querySelector("dialog.over[open]")?.id ?? location.hash.slice(1);
if (opened.startsWith("over-")) openOver(opened);

// The checkout over the page: its own page in a frame. Whatever follows the payment takes the whole window again.
document.querySelectorAll<HTMLAnchorElement>("a[data-frame]").forEach((link) =>
  link.addEventListener("click", (event) => {
    if (event.ctrlKey || event.metaKey || event.shiftKey) return;
    event.preventDefault();
    const dialog = document.createElement("dialog");
    dialog.className = "over frame";
    const shut = document.createElement("button");
    shut.className = "shut";
    shut.textContent = "Close";
    shut.onclick = () => dialog.close();
    const frame = document.createElement("iframe");
    frame.title = link.textContent ?? "";
    frame.src = link.href;
    dialog.append(shut, frame);
    dialog.onclose = () => dialog.remove();
    document.body.append(dialog);
    dialog.showModal();
  }),
);
if (self !== top && !document.querySelector("[data-checkout]")) top!.location.href = location.href;
