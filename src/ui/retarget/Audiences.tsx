import { audienceSizes } from "../../contract/retarget";
import { audiences, smallestAudience } from "../../core/retarget";
import { useRead } from "../kit/data/useRead";
import { AudienceLadder } from "./AudienceLadder";

/** The audiences of a launch. They are counted while the screen stands already: of a million people that takes longer than the rest of it. */
export const Audiences = ({ slug }: { slug: string }) => {
  const { value, failure } = useRead(audienceSizes, { params: { slug } });
  const rungs = audiences.map(({ key, name }) => ({ key, name, href: `/desk/${slug}/audience-${key}.csv` }));
  return <AudienceLadder rungs={rungs} sizes={value?.audiences} failure={failure} smallest={smallestAudience} />;
};
