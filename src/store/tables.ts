// Every table of the database, declared once. Their declarations stand with the queries of their rooms.
import { DeskUser, Vendor, Invitation, Retention, SendingSetting, DkimKey, WayIn } from "./settings/tables";
import { Session, UsedLink, RateLimit, Notice, OutboxWork, WorkerBeat, TestClock } from "./platform/tables";
import { Product, AskedPrice, Coupon, CouponCode, CouponUse, VisitorCoupon, TaxRate } from "./products/tables";
import { Launch, LaunchChange, BellRun, ClockStart, ClockStop, SeatsTaken } from "./launch/tables";
import { Page, PageAddress, PageVersion, PageTemplate, Media, MediaFile, PageComment, PagePresence } from "./pages/tables";
import { PathStep, PathVersion, OfferDecision } from "./offers/tables";
import {
  Contact,
  ErasedAddress,
  ErasedBuyer,
  LaunchOptOut,
  OptIn,
  PeopleFilter,
  PeopleImport,
  PeopleImportContact,
  PeopleImportPart,
  PeopleRule,
  PeopleRulePerson,
  Person,
  PersonField,
  PersonNotice,
  PersonTag,
  Visitor,
} from "./people/tables";
import { Checkout, Order, OrderLine } from "./checkout/tables";
import { AccessGrant } from "./delivery/tables";
import { Charge, RecurringPayment, Refund, Dispute } from "./payments/tables";
import { Partner, PartnerApplication, PartnerWordRow, Touch, TouchPerson, CommissionPlan, Commission } from "./partners/tables";
import { EmailClick, EmailMessage, EmailTemplate, LaunchEmail, LaunchSequence, OneOffEmail, SequencePerson } from "./emails/tables";
import { Listing } from "./markets/tables";
import { Journal, Posting } from "./money/tables";
import { WebhookEndpoint, WebhookMessage } from "./webhooks/tables";
import { EventRow, EventEdge, StageRollup, DayRollup, PageRollup, FilmRollup, PageCount, HourCount } from "./events/tables";

export * from "./settings/tables";
export * from "./platform/tables";
export * from "./products/tables";
export * from "./launch/tables";
export * from "./pages/tables";
export * from "./offers/tables";
export * from "./people/tables";
export * from "./checkout/tables";
export * from "./delivery/tables";
export * from "./payments/tables";
export * from "./partners/tables";
export * from "./emails/tables";
export * from "./markets/tables";
export * from "./money/tables";
export * from "./webhooks/tables";
export * from "./events/tables";

export const tables = [
  DeskUser,
  Vendor,
  Invitation,
  Retention,
  SendingSetting,
  DkimKey,
  WayIn,
  Session,
  UsedLink,
  RateLimit,
  Notice,
  OutboxWork,
  WorkerBeat,
  TestClock,
  Product,
  AskedPrice,
  Coupon,
  CouponCode,
  CouponUse,
  VisitorCoupon,
  TaxRate,
  Launch,
  LaunchChange,
  BellRun,
  ClockStart,
  ClockStop,
  SeatsTaken,
  Page,
  PageAddress,
  PageVersion,
  PageTemplate,
  Media,
  MediaFile,
  PageComment,
  PagePresence,
  PathStep,
  PathVersion,
  OfferDecision,
  Contact,
  OptIn,
  PeopleFilter,
  PeopleImport,
  PeopleImportPart,
  PeopleImportContact,
  PeopleRule,
  PeopleRulePerson,
  LaunchOptOut,
  PersonField,
  PersonNotice,
  ErasedBuyer,
  ErasedAddress,
  Person,
  PersonTag,
  Visitor,
  Checkout,
  Order,
  OrderLine,
  AccessGrant,
  Charge,
  RecurringPayment,
  Refund,
  Dispute,
  Partner,
  PartnerApplication,
  PartnerWordRow,
  Touch,
  TouchPerson,
  CommissionPlan,
  Commission,
  EmailMessage,
  EmailClick,
  EmailTemplate,
  LaunchEmail,
  OneOffEmail,
  LaunchSequence,
  SequencePerson,
  Listing,
  Journal,
  Posting,
  WebhookEndpoint,
  WebhookMessage,
  EventRow,
  EventEdge,
  StageRollup,
  DayRollup,
  PageRollup,
  FilmRollup,
  PageCount,
  HourCount,
];
