/** People: who joins the list of a launch, leaves it and stands on it, and what is known of each. */

export { correctPerson, optOutOfLaunch, resumeEmailsTo, stopEmailsTo, tagAllPeople, tagPeople } from "./changePerson";
export { conditionOf, conditionWriter } from "./conditionOf";
export { filterChoices, knownWords } from "./filterChoices";
export { importPeople } from "./import/importPeople";
export { cancelImport, checkImport, importRecord, refusedLines, runImport, startImport } from "./import/imports";
export { erasePerson, erasureOf } from "./erasePerson";
export { mergeOf, mergePeople } from "./mergePeople";
export { confirmOptIn, optIn, type OptInOutcome, unsubscribe } from "./optIn";
export { exportPerson } from "./exportPerson";
export { peopleFile } from "./peopleFile";
export { listPeople, peopleAskedBy } from "./listPeople";
export { changePreferences, preferencesForm, preferencesOf } from "./preferences";
export { addField, deleteField, listFields } from "./fields";
export { addRule, deleteRule, listRules, runRules } from "./rules";
export { changeFilter, countFilters, deleteFilter, listFilters, saveFilter } from "./savedFilters";
export { personRecordOf } from "./personRecord";
export { countPeopleOfLaunch, peopleOfLaunch } from "./peopleOfLaunch";
