/** Audiences of a launch as files. */

export { audienceFile } from "./audienceFile";
export { audienceSizes } from "./audienceSizes";
