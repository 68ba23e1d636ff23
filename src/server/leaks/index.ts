/** Where buyers are lost, and when they are asked back. */

export { setRecoveryDelay } from "./setDelay";
