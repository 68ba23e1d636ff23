/** Partners: clicks, credit and commissions, applications, and their words on pages. */

export { applyAsPartner, choosePassword, decideApplication, welcomePartner } from "./applications";
export { commissionRows, creditOf, earnerOf } from "./earn";
export { restoreCommissions, reverseCommissions } from "./reversals";
export { clickOf, recordTouch } from "./touch";
export { partnerCodeFor, partnerWordFor, partnerWordOfPerson, setPartnerWord } from "./words";
