/** The public site: answers to visitors, forms they send, previews and tries of the desk. */

export { answerPage, countFirstVisit, nothingHere } from "./answer";
export { answerMedia } from "./answerMedia";
export { frameOf, framePolicy } from "./frame";
export { previewAddress, previewDraft, previewResponse, proofFacts } from "./preview";
export { calendarFile, decideComment, joinSession, recordWatched } from "./run";
export { sharedPreview, sharePreview } from "./share";
export { sitemap } from "./sitemap";
export { confirmAddress, returnFromChallenge, submitForm } from "./submit";
export { beginTrying } from "./tryOut";
