import { paletteOf, type Look, type Theme, type TypePair } from "../../core/pages";
import { html, type Html } from "../html";
import { baseCss } from "./base";

interface Family {
  css: string;
  file: string;
  weights: string;
}
const families: Record<"besley" | "archivo" | "newsreader" | "bricolage", Family> = {
  besley: { css: "Besley", file: "besley", weights: "400 900" },
  archivo: { css: "Archivo", file: "archivo", weights: "100 900" },
  newsreader: { css: "Newsreader", file: "newsreader", weights: "200 800" },
  bricolage: { css: "Bricolage", file: "bricolage", weights: "200 800" },
};
const types: Record<TypePair, { title: keyof typeof families; text: keyof typeof families; fall: [string, string] }> = {
  bill: { title: "besley", text: "archivo", fall: ["Georgia,serif", "system-ui,sans-serif"] },
  book: { title: "newsreader", text: "newsreader", fall: ["Georgia,serif", "Georgia,serif"] },
  signboard: { title: "bricolage", text: "archivo", fall: ["system-ui,sans-serif", "system-ui,sans-serif"] },
};

/** Loads the font files of a look beside the page: a page that is drawn before they are there is not drawn again. */
export const fontsOf = ({ type }: Pick<Look, "type">): Html[] =>
  [...new Set([types[type].title, types[type].text])].map(
    (name) => html`<link rel="preload" href="/_ib/fonts/${families[name].file}.woff2" as="font" type="font/woff2" crossorigin />`,
  );

const faces = (type: TypePair): string =>
  [...new Set([types[type].title, types[type].text])]
    .map((name) => {
      const { css, file, weights } = families[name];
      return `@font-face{font-family:${css};src:url(/_ib/fonts/${file}.woff2) format("woff2");font-weight:${weights};font-display:optional}`;
    })
    .join("");

/** What sets a theme apart: its lines, sizes and corners. */
const themeCss: Record<Theme, string> = {
  broadside: `
:root{--round:3px}
.kick{border-top:4px solid;border-bottom:1px solid}
h1{font-weight:900;font-size:68px;line-height:1.02;letter-spacing:-1.1px;margin-block:10px 8px}h2{font-weight:800}h3{font-weight:700}
.box{border-block:4px solid var(--ink);padding:18px 0 20px}.choice.choice{border-bottom:0;padding-bottom:10px}
@media(max-width:600px){h1{font-size:40px;letter-spacing:-.5px}}`,
  letter: `
:root{--round:2px}
body{font-size:19px;line-height:1.62}.in{max-width:708px}
.kick{border-bottom:1px solid var(--hair);color:var(--ink3)}
h1{font-weight:700;font-size:46px;line-height:1.12}h2{font-weight:700;font-size:27px}
.box{border:1px solid var(--hair);padding:20px 22px}.z-large{font-size:22px}
.say{border-left:3px solid var(--words);padding-left:18px}
@media(max-width:600px){body{font-size:18px}h1{font-size:33px}}`,
  lantern: `
:root{--round:10px}
body{font-size:18px}
.kick{justify-content:center}.kick span+span{color:var(--ink3)}
h1{font-weight:800;font-size:56px;line-height:1.06;letter-spacing:-.6px}h2{font-weight:700}
.box{background:var(--sunk);border-radius:14px;padding:22px 24px}.g-sunk .box{background:var(--field)}.g-second .box,.g-accent .box{background:none;border:1px solid}
.film{border-radius:14px;box-shadow:0 0 0 1px var(--hair),0 18px 80px -20px var(--accent)}
figure img{border-radius:10px}
@media(max-width:600px){h1{font-size:36px}}`,
};

/** The whole style of a page in a look, sent inside the page: the first paint needs one round trip. */
export const styleOf = (look: Look): string => {
  const p = paletteOf(look);
  const { title, text, fall } = types[look.type];
  const values = {
    paper: p.paper,
    sunk: p.sunk,
    field: p.field,
    fieldink: p.ink,
    fieldline: p.ink2,
    ink: p.ink,
    ink2: p.ink2,
    ink3: p.ink3,
    hair: p.hair,
    accent: p.accent,
    onaccent: p.onAccent,
    words: p.accentText,
    second: p.second,
    onsecond: p.onSecond,
    secondwords: p.accentOnSecond,
    loss: p.loss,
    wrong: p.lossText,
    focus: p.focus,
    title: `${families[title].css},${fall[0]}`,
    text: `${families[text].css},${fall[1]}`,
  };
  const list = Object.entries(values).map(([name, value]) => `--${name}:${value}`);
  return `${faces(look.type)}:root{${list.join(";")}}${baseCss}${themeCss[look.theme]}`.replace(/\n/g, "");
};
