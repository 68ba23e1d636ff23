const literal = String.raw`[\p{L}\p{N}_/ ,:;@#%&=!~'"<>-]|\\[.*+?()[\]{}|^$\\/-]|\.`;
const inClass = String.raw`[A-Za-z0-9_/.]`;
const token = new RegExp(
  String.raw`(?<class>\[\^?(?:${inClass}-${inClass}|${inClass})+\])|(?<one>${literal})|(?<open>\()|(?<close>\))|(?<or>\|)|(?<anchor>[\^$])`,
  "uy",
);
const repeat = /(?:[*+?]|\{\d{1,2}(?:,\d{0,2})?\})/y;

/**
 * Whether a text is a regular expression of the part that the core and the database read alike: characters, `.`, classes
 * such as `[a-z0-9]`, groups, `|`, `^` at the beginning, `$` at the end, and `*`, `+`, `?` or `{2,5}` behind a character, a class or a group.
 */
export const isPattern = (text: string): boolean => {
  let depth = 0;
  let at = 0;
  let fresh = true;
  while (at < text.length) {
    token.lastIndex = at;
    const found = token.exec(text)?.groups;
    if (!found) return false;
    at = token.lastIndex;
    if (found["anchor"] === "^" && at !== 1) return false;
    if (found["anchor"] === "$" && at !== text.length) return false;
    if (found["open"]) depth += 1;
    if (found["close"] && (depth -= 1) < 0) return false;
    // Nothing before or behind a bar, or between brackets, is read in more than one way.
    if ((found["or"] || found["close"]) && fresh) return false;
    fresh = found["open"] !== undefined || found["or"] !== undefined || found["anchor"] === "^";
    if (found["class"] || found["one"] || found["close"]) {
      repeat.lastIndex = at;
      if (repeat.test(text)) at = repeat.lastIndex;
    }
  }
  return depth === 0 && !fresh && compiles(text);
};

const compiles = (text: string): boolean => {
  try {
    return new RegExp(text, "u") instanceof RegExp;
  } catch {
    return false;
  }
};
