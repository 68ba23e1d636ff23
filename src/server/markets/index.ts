/** Listings on marketplaces, and the notices that come back. */

export { acceptTerms, beginTestOrder, listingView, type ListingView, setPicture, setRefundDays, submitListing } from "./listing";
export { applyMarketNotice } from "./notices";
