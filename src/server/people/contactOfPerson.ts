import type { PersonCorrection } from "../../core/people";
import { contactOfPerson as find } from "../../store/people/persons";
import type { Contact } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { required } from "../platform";

/** The contact that a person is reached by; refuses whoever has given no address, was erased, or is somebody else by now. */
export const contactOfPerson = async (em: EntityManager, personId: string): Promise<Contact> => required(await find(em, personId), "person");

/** What of a contact the desk can correct, as it is: what nobody knows is empty. */
export const correctable = (contact: Contact): PersonCorrection => ({
  email: contact.email,
  firstName: contact.firstName,
  lastName: contact.lastName,
  phone: contact.phone ?? "",
  country: contact.country ?? "",
  zone: contact.zone ?? "",
  language: contact.language ?? "",
  answers: contact.answers,
});
