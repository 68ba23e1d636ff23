import * as contract from "../../contract/products";
import { answering, type Answering, required } from "../platform";
import {
  archiveCoupon,
  deleteCoupon,
  makeCoupon,
  stopCoupon,
  copyProduct,
  listProducts,
  makeBumpProduct,
  saveProduct,
  setPicture,
  setPrice,
  changeTaxTable,
} from "../products";

export const productAnswers: Answering[] = [
  answering(contract.readProduct, async ({ em, params, scope }) =>
    required(
      (await listProducts(em, scope)).find(({ id }) => id === params.id),
      "product",
    ),
  ),
  answering(contract.saveProduct, ({ em, user, params, body, now }) => saveProduct(em, user, params.id, body, now)),
  answering(contract.copyProduct, ({ em, user, params, body, now }) => copyProduct(em, user, params.id, body, now)),
  answering(contract.setProductPrice, ({ em, user, params, body, now }) => setPrice(em, user, params.id, body, now)),
  answering(contract.setProductPicture, ({ em, user, params, body }) => setPicture(em, user, params.id, body.mediaId)),
  answering(contract.makeBump, ({ em, user, params, body, now }) => makeBumpProduct(em, user, params.id, body, now)),
  answering(contract.makeCoupon, ({ em, user, body, now }) => makeCoupon(em, user, body, now)),
  answering(contract.stopCoupon, ({ em, user, params, now }) => stopCoupon(em, user, params.id, now)),
  answering(contract.archiveCoupon, ({ em, user, params, body, now }) => archiveCoupon(em, user, params.id, body.archived, now)),
  answering(contract.deleteCoupon, ({ em, user, params }) => deleteCoupon(em, user, params.id)),
  answering(contract.changeTaxTable, ({ em, user, body }) => changeTaxTable(em, user, body)),
];
