import { z } from "zod";
import { counted } from "../../core/figures";
import { useRead } from "../kit/data/useRead";

const answer = z.object({ people: z.number() });

/** How many people meet the condition of a list. They are counted while the list is read already. */
export const PeopleCount = ({ slug, who }: { slug: string; who: string }) => {
  const { value, failure } = useRead(`/api/desk/${slug}/people/count?${new URLSearchParams({ who })}`, answer);
  return (
    <p className="muted" role="status">
      {value ? counted(value.people, "person", "people") : failure ? `They could not be counted: ${failure}` : "Counting…"}
    </p>
  );
};
