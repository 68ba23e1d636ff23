/** Pages as the desk edits, publishes, tests and archives them, with their pictures and files. */

export { addPage, copyPage, mayAdd, newPage } from "./addPage";
export { archivedPages, archivePage, deletePage, usesOfPage } from "./archivePage";
export { changeAddress } from "./changeAddress";
export { compileFor, mediaLookup } from "./compileFor";
export { setLook } from "./look";
export { changeMedia, listMedia, mediaFile, storeMedia, upload } from "./media";
export { moveFiles } from "./moveFiles";
export { notePresence } from "./presence";
export { aroundPage, gapsOf, keepVersion, publishPage, publishPages, restoreVersion, saveDraft, versionsOf } from "./publish";
export { gapsOfLaunch, readinessOf } from "./readiness";
export { recompile, recompilePublished } from "./recompile";
export { dropTemplate, fromTemplate, keepTemplate, ownTemplates } from "./templates";
export { addVariant, dropVariant, makeWinner, setWeights } from "./variants";
