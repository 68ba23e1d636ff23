import { retryWork } from "../../contract/work";
import { answering, type Answering } from "../platform";
import { retryNow } from "./retry";

export const workEndpoints: Answering[] = [answering(retryWork, ({ em, user, body, now }) => retryNow(em, user, body, now))];
