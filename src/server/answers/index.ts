/** Every endpoint of the desk with what answers it. */

export { answerDesk, answers } from "./answers";
