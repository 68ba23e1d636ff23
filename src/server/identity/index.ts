/** Who is who: visitors, persons and contacts, and when two of them are one. */

export { becomePerson, contactOf, personOf, tieBrowser } from "./identity";
