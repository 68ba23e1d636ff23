import { z } from "zod";
import { devices } from "../events";
import { readAmount } from "../money";
import type { Fault } from "../words";
import {
  deepest,
  eventKinds,
  mostDays,
  mostTimes,
  wholeCondition,
  mailDeeds,
  type Condition,
  type Did,
  type Mailed,
  type TextTest,
  type ToldOther,
} from "./condition";
import { isPattern } from "./pattern";
import { groupWords, kindWords, mailWords, textWords } from "./sentence";

/** Ids by name; undefined where nothing is called so. */
export interface ConditionIds {
  launch: (name: string) => string | undefined;
  product: (name: string) => string | undefined;
  step: (name: string) => string | undefined;
  partner: (name: string) => string | undefined;
  email: (name: string) => string | undefined;
}

/** Where a sentence stops making sense (a position in its text, from 0), and what could have stood there. */
export interface SentenceRefusal {
  code: "unexpected" | "unknown_name" | "out_of_range";
  at: number;
  expected: string;
}

class Unreadable extends Error {
  constructor(readonly refusal: SentenceRefusal) {
    super(refusal.code);
  }
}

const token = /\s*(?:(?<text>"(?:[^"\\]|\\.)*")|(?<mark>[();])|(?<word>[^\s();"]+))/y;

interface Token {
  at: number;
  word?: string;
  text?: string;
}

const tokensOf = (sentence: string): Token[] => {
  const tokens: Token[] = [];
  token.lastIndex = 0;
  for (let at = 0; sentence.slice(at).trim() !== ""; at = token.lastIndex) {
    token.lastIndex = at;
    const found = token.exec(sentence);
    const begins = at + (/^\s*/.exec(sentence.slice(at))?.[0].length ?? 0);
    if (!found) throw new Unreadable({ code: "unexpected", at: begins, expected: "a closing quotation mark" });
    const { text, mark, word } = found.groups!;
    tokens.push({ at: begins, ...(text === undefined ? { word: mark ?? word! } : { text: unquoted(text, begins) }) });
  }
  return tokens;
};

const unquoted = (text: string, at: number): string => {
  try {
    return JSON.parse(text) as string;
  } catch {
    throw new Unreadable({ code: "unexpected", at, expected: "a text between quotation marks" });
  }
};

const kindsByLength = [...eventKinds].sort((a, b) => kindWords[b].length - kindWords[a].length);

/** Reads a sentence from its tokens, one after the other. */
class Reader {
  private next = 0;
  private depth = 0;
  constructor(
    private readonly tokens: Token[],
    private readonly ids: ConditionIds,
    private readonly end: number,
  ) {}

  private refuse(expected: string, code: SentenceRefusal["code"] = "unexpected", back = 0): never {
    throw new Unreadable({ code, at: this.tokens[this.next - back]?.at ?? this.end, expected });
  }

  /** Takes these words if they come next. */
  private takes(words: string): boolean {
    const wanted = words.trim().split(" ");
    if (!wanted.every((word, n) => this.tokens[this.next + n]?.word === word)) return false;
    this.next += wanted.length;
    return true;
  }

  private needs(words: string): void {
    if (!this.takes(words)) this.refuse(words);
  }

  private text(expected: string): string {
    const text = this.tokens[this.next]?.text;
    if (text === undefined) this.refuse(expected);
    this.next += 1;
    return text;
  }

  private number(expected: string, least: number, most: number): number {
    const word = this.tokens[this.next]?.word ?? "";
    if (!/^\d{1,9}$/.test(word)) this.refuse(expected);
    const n = Number(word);
    if (n < least || n > most) this.refuse(`${expected}, ${least} to ${most}`, "out_of_range");
    this.next += 1;
    return n;
  }

  private named(of: keyof ConditionIds): string {
    const words = `the name of ${of === "email" ? "an" : "a"} ${of}`;
    const id = this.ids[of](this.text(words));
    return id ?? this.refuse(words, "unknown_name", 1);
  }

  private textTest(noun: string): TextTest {
    if (this.takes(noun)) return { is: "equals", text: this.text("a text") };
    this.needs(`a ${noun}`);
    const is = (["contains", "starts", "matches"] as const).find((one) => this.takes(textWords[one]));
    if (!is) this.refuse("containing, starting with or matching");
    const text = this.text("a text");
    if (is === "matches" && !isPattern(text)) this.refuse("a plain pattern, such as ^episodes/[0-9]+$", "out_of_range", 1);
    return { is, text };
  }

  private group(): Condition[] {
    this.needs("(");
    if ((this.depth += 1) > deepest) this.refuse(`groups ${deepest} deep at most`, "out_of_range", 1);
    const parts = [this.condition()];
    while (this.takes(";")) parts.push(this.condition());
    this.needs(")");
    this.depth -= 1;
    return parts;
  }

  private did(): Did | undefined {
    const did = kindsByLength.find((kind) => this.takes(kindWords[kind]));
    if (!did) return undefined;
    const one: Did = { did };
    if (this.takes("of launch")) one.launch = this.named("launch");
    if (this.takes("on")) one.page = this.textTest("page");
    if (this.takes("of product")) one.product = this.named("product");
    if (this.takes("at step")) one.step = this.named("step");
    if (this.takes("at least")) {
      one.times = this.number("how many times", 2, mostTimes);
      this.needs("times");
    }
    return this.within(one);
  }

  private within<T extends { withinDays?: number | undefined }>(one: T): T {
    if (!this.takes("within")) return one;
    one.withinDays = this.number("how many days", 1, mostDays);
    if (!this.takes("day")) this.needs("days");
    return one;
  }

  /** What became of an email. Words that begin a thing that was done are not of an email, unless one is named behind them. */
  private mailed(): Mailed | undefined {
    const mailed = mailDeeds.find((deed) => this.takes(mailWords[deed]));
    if (!mailed) return undefined;
    const one: Mailed = { mailed };
    if (!this.takes("any email")) {
      this.needs("email");
      one.email = this.named("email");
    }
    if (mailed === "clicked" && this.takes("on")) one.link = this.textTest("link");
    return this.within(one);
  }

  private countries(): string[] {
    const country = [];
    do {
      const word = this.tokens[this.next]?.word;
      if (word === undefined || !/^[A-Z]{2}$/.test(word)) this.refuse("a country's two letters, such as PT");
      country.push(word);
    } while ((this.next += 1) && this.takes("or"));
    return country;
  }

  private answered(): { question: string; text: TextTest } {
    const question = this.text("a question between quotation marks");
    this.needs("with");
    return { question, text: this.textTest("text") };
  }

  private spent(): Condition {
    const typed = this.tokens[this.next++]?.word ?? "";
    const currency = this.tokens[this.next++]?.word ?? "";
    const minor = /^[A-Z]{3}$/.test(currency) ? readAmount(typed, currency) : undefined;
    return typeof minor === "number" ? { spent: { minor, currency } } : this.refuse("an amount and its currency", "unexpected", 2);
  }

  private instant(): string {
    const word = this.tokens[this.next]?.word ?? "";
    if (!z.iso.datetime().safeParse(word).success) this.refuse("an instant such as 2026-12-05T19:00:00Z");
    this.next += 1;
    return word;
  }

  private toldOther(): ToldOther {
    const launch = this.named("launch");
    this.needs("after");
    const after = this.instant();
    this.needs("other than");
    return { launch, after, than: this.instant() };
  }

  condition(): Condition {
    for (const [key, words] of Object.entries(groupWords)) if (this.takes(words)) return { [key]: this.group() } as Condition;
    const done = this.did() ?? this.mailed();
    if (done) return done;
    if (this.takes("was last told a closing of launch")) return { toldOther: this.toldOther() };
    if (this.takes("is in")) return { country: this.countries() };
    if (this.takes("is tagged")) return { tag: this.text("a tag") };
    if (this.takes("may be written to")) return { mayWrite: true };
    if (this.takes("answered")) return { answered: this.answered() };
    if (this.takes("came from")) return { source: this.textTest("source") };
    if (this.takes("came through any partner")) return { partner: null };
    if (this.takes("came through partner")) return { partner: this.named("partner") };
    if (this.takes("spent at least")) return this.spent();
    const device = devices.find((one) => this.takes(`came on a ${one}`));
    return device ? { device } : this.refuse("what somebody did, or where they came from");
  }

  whole(): Condition {
    const one = this.condition();
    if (this.next < this.tokens.length) this.refuse("the end");
    return one;
  }
}

/** Reads a sentence as `conditionSentence` writes it; spaces and line breaks are free. */
export const readSentence = (sentence: string, ids: ConditionIds): { condition: Condition } | { refusal: SentenceRefusal } => {
  try {
    const read = wholeCondition.safeParse(new Reader(tokensOf(sentence), ids, sentence.length).whole());
    if (read.success) return { condition: read.data };
    return { refusal: { code: "out_of_range", at: 0, expected: "shorter texts, or fewer conditions in a group" } };
  } catch (error) {
    if (error instanceof Unreadable) return { refusal: error.refusal };
    throw error;
  }
};

/** What is wrong with a sentence, as it is said at its field. */
export const sentenceFault = (sentence: string, { code, at, expected }: SentenceRefusal): Fault => ({
  code: "sentence",
  why: code,
  text: sentence.slice(at, at + 40),
  expected,
});
