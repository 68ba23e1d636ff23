/** The list of a launch: who joins it, leaves it and stands on it. */

export { confirmOptIn, optIn, type OptInOutcome, unsubscribe } from "./optIn";
export { countPeopleOfLaunch, peopleOfLaunch } from "./peopleOfLaunch";
