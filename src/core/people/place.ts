import { isZone } from "../launch";
import { isLanguage } from "./person";

/** Where somebody's clock is and what they read, as far as their browser says so. */
export interface PlaceGuess {
  guessedZone?: string | undefined;
  guessedLanguage?: string | undefined;
}

/** What a browser says of it: the zone that its script put into a form, and the first of its languages. What is none is passed over. */
export const guessPlace = (zone: string | undefined, acceptLanguage: string | undefined): PlaceGuess => {
  const language = /^[a-z]{2}(?=$|[-,;])/.exec(acceptLanguage ?? "")?.[0];
  return {
    guessedZone: zone && zone.length <= 60 && isZone(zone) ? zone : undefined,
    guessedLanguage: language && isLanguage(language) ? language : undefined,
  };
};
