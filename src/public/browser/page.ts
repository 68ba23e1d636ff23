// The whole script of the public pages: countdown, card frame, one submission per press.
import { countdownFigure } from "../../core/launch/figure";

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
    const minutes = Math.ceil(ms / 60_000);
    if ([60, 10, 1].includes(minutes) && said.textContent !== String(minutes)) said.textContent = `${minutes} minutes left`;
    if (ms > 0) return void setTimeout(show, ms % 1000 || 1000);
    // At zero the address answers another page; spread, so that a crowd does not arrive at once.
    if (!moving) setTimeout(() => location.reload(), 150 + Math.random() * 3000);
    moving = true;
  };
  show();
};
document.querySelectorAll<HTMLElement>("[data-until]").forEach(tick);

document.querySelectorAll<HTMLElement>("[data-again]").forEach((block) => setTimeout(() => location.reload(), Number(block.dataset["again"])));

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
  const frame = form.querySelector("iframe")!;
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
    (event) => {
      if (token.value) return;
      event.preventDefault();
      event.stopImmediatePropagation();
      frame.contentWindow?.postMessage({ ask: "cardToken" }, origin);
    },
    true,
  );
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
const standing = document.querySelector("dialog.over[open]")?.id ?? location.hash.slice(1);
if (standing.startsWith("over-")) openOver(standing);

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
