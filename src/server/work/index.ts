/** What waits in the background, and trying it now. */

export { retryNow } from "./retry";
export { workEndpoints } from "./endpoints";
