import * as contract from "../../contract/orders";
import { answering, type Answering } from "../platform";
import { enterByHand, sendReceiptAgain } from "./handOrders";

export const checkoutEndpoints: Answering[] = [
  answering(contract.enterOrder, ({ app, em, user, body }) => enterByHand(app, em, user, body)),
  answering(contract.sendReceiptAgain, ({ app, em, user, params }) => sendReceiptAgain(app, em, user, params.id)),
];
