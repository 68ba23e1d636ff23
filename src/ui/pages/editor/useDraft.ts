import { saveDraft } from "../../../contract/pages";
import { pageContent, type PageContent } from "../../../core/pages";
import { call } from "../../kit/data/call";
import { useRecord } from "../../kit/record/useRecord";

/** Typing rests for so long before it is saved: a draft is public to nobody. */
const restMs = 600;

/** A page's draft with its history, saved by itself. */
export const useDraft = (id: string, first: PageContent, version: number) =>
  useRecord({
    first,
    version,
    restMs,
    whole: (content) => pageContent.safeParse(content).success,
    save: (content, from, leaving) => call(saveDraft, { params: { id }, request: { content, version: from }, leaving }),
  });
