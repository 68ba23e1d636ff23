import { Refusal } from "../refusal";

/** The text fields of a posted form. Refuses what is no form, and the NUL character, which no column of text can hold. */
export const readForm = async (request: Request): Promise<Record<string, string>> => {
  const type = request.headers.get("content-type") ?? "";
  if (!/^(application\/x-www-form-urlencoded|multipart\/form-data)\b/i.test(type)) throw new Refusal({ code: "takes_a_form" });
  let form: FormData;
  try {
    form = await request.formData();
  } catch (error) {
    // A body that grew too large says so itself.
    if (error instanceof Refusal || (error instanceof Error && error.cause instanceof Refusal)) throw error;
    throw new Refusal({ code: "not_a_form" });
  }
  const values = Object.fromEntries([...form].filter((entry): entry is [string, string] => typeof entry[1] === "string"));
  if (Object.entries(values).some(([name, value]) => name.includes("\0") || value.includes("\0"))) throw new Refusal({ code: "not_text" });
  read.set(request, values);
  return values;
};

const read = new WeakMap<Request, Record<string, string>>();

/** What a form held that was read from a request: an answer that failed gives it back. */
export const sentWith = (request: Request): Record<string, string> | undefined => read.get(request);
