/** Who is who: visitors, persons and contacts, and when two of them are one. */

export { becomePerson, contactOf, guessAgain, mergePersons, personOf, tieBrowser } from "./identity";
