import { Refusal } from "../refusal";

/** What a JSON document says. Refuses what is none, and the NUL character, which no column of text can hold. */
export const parseJson = (text: string): unknown => {
  if (/\\u0000|\0/.test(text)) throw new Refusal(400, "not_text", "The request holds a character that cannot be kept (NUL).");
  try {
    return text ? JSON.parse(text) : {};
  } catch {
    throw new Refusal(400, "not_json", "The request is not JSON.");
  }
};
