// The whole script for other sites: a countdown that the launch's own server keeps. Pasted as
// <script src=".../_ib/countdown.js" data-launch="..." async></script>, it draws itself where it stands.
import { countdownFigure } from "../../core/launch/view/figure";

interface Answer {
  now: number;
  href: string;
  countdown?: { until: number; sentence: string; stages: [leftMs: number, look: string, words: string][] };
}

const grounds: Record<string, string> = { quiet: "#141B26", firm: "#A34721", loud: "#A52C26" };
const tag = document.currentScript as HTMLScriptElement | null;

const begin = async (script: HTMLScriptElement): Promise<void> => {
  const launch = script.dataset["launch"] ?? "";
  const kept = `ink-bell-${launch}`;
  // A person's link brings their own clock; kept, so that it holds on the site's other pages as well.
  const link = new URLSearchParams(location.search).get("k") ?? sessionStorage.getItem(kept);
  if (link) sessionStorage.setItem(kept, link);
  const asked = performance.now();
  const response = await fetch(`${new URL(script.src).origin}/c/${launch}.json${link ? `?k=${encodeURIComponent(link)}` : ""}`);
  const { now, href, countdown } = (await response.json()) as Answer;
  if (!countdown) return;
  const block = document.createElement("a");
  block.href = href + (link ? `?k=${encodeURIComponent(link)}` : "");
  const [words, sentence, figure] = [document.createElement("strong"), document.createElement("span"), document.createElement("b")];
  block.append(words, sentence, figure);
  block.dataset["inkBell"] = launch;
  block.dataset["until"] = String(countdown.until);
  block.style.cssText =
    "display:flex;flex-wrap:wrap;gap:2px 18px;justify-content:center;align-items:baseline;padding:11px 16px;color:#fff;text-decoration:none;font:15px/1.4 system-ui,sans-serif;font-variant-numeric:tabular-nums";
  figure.style.fontSize = "20px";
  sentence.textContent = countdown.sentence;
  script.after(block);
  const show = (): void => {
    // The server's time when it answered, and what passed here since, by a clock that nobody can set.
    const left = countdown.until - now - (performance.now() - asked);
    const stage = countdown.stages.filter(([from]) => left <= from).pop();
    block.style.background = grounds[stage?.[1] ?? "quiet"] ?? "#141B26";
    words.textContent = stage?.[2] ?? "";
    figure.textContent = countdownFigure(left);
    if (left > 0) return void setTimeout(show, left % 1000 || 1000);
    setTimeout(
      () => {
        block.remove();
        void begin(script);
      },
      150 + Math.random() * 3000,
    );
  };
  show();
};
if (tag) void begin(tag).catch(() => undefined);
