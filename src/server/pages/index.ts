/** Pages as the desk edits, publishes, tests and archives them, with their pictures and files. */

export { addPage, addPageRequest, copyPage, copyPageRequest, mayAdd, newPage, pageAddress } from "./addPage";
export { archivedPages, archivePage, deletePage, usesOfPage } from "./archivePage";
export { addressRequest, changeAddress } from "./changeAddress";
export { compileFor } from "./compileFor";
export { setLook } from "./look";
export { changeMedia, listMedia, mediaChange, mediaFile, storeMedia, upload } from "./media";
export { moveFiles } from "./moveFiles";
export { notePresence } from "./presence";
export { aroundPage, gapsOf, keepVersion, publishPage, publishPages, restoreVersion, saveDraft, versionsOf } from "./publish";
export { gapsOfLaunch, readinessOf } from "./readiness";
export { recompile, recompilePublished } from "./recompile";
export { dropTemplate, fromTemplate, keepTemplate, ownTemplates, templateRequest } from "./templates";
export { addVariant, dropVariant, makeWinner, setWeights, weightsRequest } from "./variants";
