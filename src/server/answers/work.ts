import { retryWork } from "../../contract/work";
import { answering, type Answering } from "../platform";
import { retryNow } from "../work";

export const workAnswers: Answering[] = [answering(retryWork, ({ em, user, body, now }) => retryNow(em, user, body, now))];
