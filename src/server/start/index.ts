/** How a launch begins: from answers, as a copy, or from a file; and its export. */

export { copyLaunch } from "./copyLaunch";
export { createLaunch } from "./createLaunch";
export { exportLaunch, exportPage, exportTemplate } from "./exportFile";
export { importFile } from "./importFile";
