import { countPeople } from "../../contract/people";
import { counted } from "../../core/words";
import { useRead } from "../kit/data/useRead";

/** How many people meet the condition of a list. They are counted while the list is read already. */
export const PeopleCount = ({ slug, who }: { slug: string; who: string }) => {
  const { value, failure } = useRead(countPeople, { params: { slug }, request: { who } });
  return (
    <p className="muted" role="status">
      {value ? counted(value.people, "person", "people") : failure ? `They could not be counted: ${failure}` : "Counting…"}
    </p>
  );
};
