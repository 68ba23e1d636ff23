/** A launch: its parts, clock and bells, what is changed in it, and its archive. */

export { archiveLaunch, deleteLaunch, keptBecause, mustNotBeArchived } from "./archiveLaunch";
export { bellCalendar } from "./calendar";
export { changeSettings, summariseChange, undoChange } from "./change";
export { dateClocks } from "./dateClocks";
export { deskLaunch, deskZone, listLaunches } from "./deskLaunch";
export { hookSecret, newHookSecret } from "./hookSecret";
export { launchesOf } from "./launchCache";
export {
  fullSteps,
  hiddenSteps,
  launchChanged,
  type LaunchContext,
  loadLaunch,
  type OfferStep,
  type PlannedLaunch,
  shownPlans,
} from "./launchContext";
export { applyOutsideNotice } from "./outsideNotices";
export { rescheduleEmails } from "./rescheduleEmails";
export { queueLastCalls } from "./lastCalls";
export { countdownJson, countdownPicture, drawCountdown } from "./outsideCountdown";
export {
  actingViewer,
  identify,
  type Identity,
  isListed,
  isPersonal,
  listedSince,
  personIdOf,
  runningClocks,
  startByVisit,
  startClock,
  stopClock,
  stopsAtPage,
  stopsAtPurchase,
  viewerOf,
  viewerOfContact,
  visitStarts,
} from "./persons";
export { notifyVendor, queueBellEmails, runBells, scheduleBells, scheduleLaunch } from "./runBells";
