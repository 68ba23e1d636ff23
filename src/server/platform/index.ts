/** What every room stands on: the app and its clock, who may, refusals, requests and answers, work that is queued. */

export { deskUser, libraryBuyer, mustBeAllowed, portalPartner } from "./access/access";
export { limit, limitSender, mayGoOn, type Sender } from "./access/rateLimit";
export { beginSession, endSessions, hashPassword, mustBePassword, type SessionKind, sessionsOf, sessionSubject } from "./access/session";
export { endSession, keepSession, sessionToken } from "./access/sessionCookie";
export { readLink, signLink } from "./access/signedLink";
export { takeSignIn, wayBack } from "./access/signInForm";
export { useUp } from "./access/usedLink";
export { type App, theApp } from "./app";
export { onceMoreAfterDeadlock } from "./deadlock";
export { describeError } from "./describeError";
export { Happening, type Reaction } from "./happening";
export { csvResponse } from "./http/csv";
export { answering, answeringFile, type Answering, type Download } from "./http/answering";
export { type Failure, failureOf, logFailure, shownRefusal } from "./http/failure";
export { answerFailure } from "./http/failurePage";
export { isNormalTarget } from "./http/normalPath";
export { receiveNotice } from "./http/notices";
export { isOwnOrigin } from "./http/origin";
export { messagePage, publicHeaders, redirect, sha256 } from "./http/policy";
export {
  buyerTokenOf,
  cookie,
  firstVisitHeader,
  clickCookie,
  emailClickOf,
  firstVisitOf,
  guessCountry,
  keptLinkOf,
  linkCookie,
  lookOf,
  type PublicAnswer,
  type PublicRequest,
  tryCookie,
  tryLinkOf,
  visitorCookie,
  visitorOf,
} from "./http/publicRequest";
export { readForm, sentWith } from "./http/readForm";
export { bodyOf } from "./http/requestBody";
export { type RouteRule, ruleOf } from "./http/routes";
export { deskLocale, typedAmount } from "./http/typedAmount";
export { queue, retryDelayMs, workRow } from "./outbox";
export { perApp } from "./perApp";
export { Refusal, required, wrongField, wrongFields } from "./refusal";
export { sendAccountEmail } from "./mail/accountMail";
export { makeDkimKey, signerFor } from "./mail/signing";
export { senderOf } from "./mail/sender";
