import type { MoneyByCurrency } from "../money";

/** What a partner brought and earned; `held` is not past its hold yet, `due` is. */
export interface PartnerStats {
  partnerId: string;
  name: string;
  code: string;
  rateBp: number;
  clicks: number;
  optIns: number;
  orders: number;
  pending: MoneyByCurrency;
  due: MoneyByCurrency;
}
