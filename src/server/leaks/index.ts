/** Where buyers are lost, and when they are asked back. */

export { delayRequest, setRecoveryDelay } from "./setDelay";
