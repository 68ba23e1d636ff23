import type { PersonField as Field } from "../../core/people";
import { PersonField, type DeskUser } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { mustBeAllowed, wrongField } from "../platform";

/** The vendor's own fields in the order in which they were made. */
export const listFields = async (em: EntityManager): Promise<Field[]> =>
  (await em.find(PersonField, {}, { orderBy: { createdAt: 1, name: 1 } })).map(({ name, kind, choices }) => ({ name, kind, choices }));

/** Adds a field that every record has from now on; what forms and files said under its name stands in it. */
export const addField = async (em: EntityManager, user: DeskUser, field: Field, now: Date): Promise<void> => {
  mustBeAllowed(user, "person.edit");
  try {
    await em.insert(PersonField, { ...field, choices: field.kind === "choice" ? field.choices : [], createdAt: now });
  } catch (error) {
    if (error instanceof Error && error.name === "UniqueConstraintViolationException")
      throw wrongField("nothing_saved", "name", { code: "field_name_taken" });
    throw error;
  }
};

/** Removes a field from the records that do not fill it. What people have in it stays with them. */
export const deleteField = async (em: EntityManager, user: DeskUser, name: string): Promise<void> => {
  mustBeAllowed(user, "person.edit");
  await em.nativeDelete(PersonField, { name });
};
