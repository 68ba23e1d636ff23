/** What waits in the background, and trying it now. */

export { retryNow } from "./retry";
