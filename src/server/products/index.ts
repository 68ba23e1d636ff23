/** What is sold: products and bundles, coupons, tax rates. */

export { archiveCoupon, deleteCoupon } from "./archiveCoupon";
export { codeFile, couponOf, judgeCoupon, listCoupons, makeCoupon, stopCoupon } from "./coupons";
export {
  bumpProducts,
  copyProduct,
  listProducts,
  makeBumpProduct,
  makeProduct,
  noteAsked,
  priceFirst,
  productChoices,
  saveProduct,
  setPicture,
  setPrice,
} from "./products";
export { changeTaxTable, ensureTaxTable, taxTable } from "./taxTable";
