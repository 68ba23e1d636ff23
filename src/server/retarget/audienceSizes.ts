import { countryName } from "../../core/people";
import { audiences, type AudienceSize } from "../../core/retarget";
import type { ConditionScope } from "../../core/conditions";
import type { EntityManager } from "../../store/orm";
import { audienceByCountry } from "../../store/people/find/audienceByCountry";

/** How many people each audience of a launch holds, country by country. */
export const audienceSizes = (em: EntityManager, scope: ConditionScope & { launchId: string }): Promise<AudienceSize[]> =>
  Promise.all(
    audiences.map(async (audience) => ({
      key: audience.key,
      countries: (await audienceByCountry(em, scope, audience)).map(({ country, ...counts }) => ({
        country: country ? countryName(country) : "not known",
        ...counts,
      })),
    })),
  );
