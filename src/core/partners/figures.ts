/** What a partner brought and earned. Minor units; `held` is not past its hold yet, `due` is. */
export interface PartnerStanding {
  partnerId: string;
  name: string;
  code: string;
  rateBp: number;
  clicks: number;
  optIns: number;
  orders: number;
  heldMinor: number;
  dueMinor: number;
  currency: string;
}
