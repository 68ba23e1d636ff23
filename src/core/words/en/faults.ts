import { formatMoney, type AmountRefusal, type Locale } from "../../money";
import { lengthWords } from "../lengths";

const whole = (n: number): string => n.toLocaleString("en");

/** Why a code takes nothing off an order. */
const coupons = {
  unknown: "This code is not known. Look at it again: perhaps a letter is missing.",
  not_yet: "This code is not valid yet.",
  over: "This code has expired.",
  used_up: "This code has been used as often as it may be.",
  used_by_person: "You have used this code before; it is valid once for each buyer.",
  other_currency: "This code is not valid for the currency of this order.",
  other_products: "This code is for another product.",
} as const;

/** Why a file was not taken. */
const files = {
  empty: "The file is empty.",
  damaged_picture: "This file is damaged, or it is no picture. JPEG, PNG, WebP, AVIF and GIF can be read.",
  other_picture: "JPEG, PNG, WebP, AVIF and GIF can be read.",
  svg: "Drawings in SVG can carry programs and are not taken. Save it as PNG, large enough.",
  half_a_picture: "This picture could not be read to its end. It may be damaged; export it anew and try again.",
  listing_picture_large: "The file is larger than 8 MiB. Choose a smaller one.",
  listing_picture: "This is not a PNG, JPEG or WebP picture that can be read.",
  captions_large: "These captions weigh more than 1 MB.",
  file_large: "This file weighs more than 60 MB.",
  not_csv: "This is no CSV file. In a spreadsheet program, save the sheet as CSV (UTF-8).",
  no_rows: "The file has no lines below its heads.",
  too_many_rows: "The file has more than 250,000 lines. Divide it.",
  not_a_zip: "This is no zip file, or it is damaged.",
  zip_large: "The file weighs more than 200 MB.",
  unpacked_large: "The file unpacks to more than may be read.",
  no_manifest: "The file has no manifest.",
  named_twice: "The manifest names a file twice.",
  more_than_named: "The file holds more than its manifest names.",
  no_main_product: "The launch's own product is not in the file.",
  address_twice: "Two pages have the same address.",
  page_twice: "The offer path comes to a page twice.",
  path_in_circle: "The offer path goes in a circle, or has a step that nothing leads to.",
} as const;
export type FileFault = keyof typeof files;

type RecurrenceDetail =
  | { code: "not_a_rule" | "too_often" | "never_occurs" }
  | { code: "part_unknown" | "part_twice"; part: string }
  | { code: "part_wrong"; part: string; value: string }
  | { code: "parts_clash"; part: string; with: string }
  | { code: "first_out_of_range"; from: number; to: number }
  | { code: "windows_overlap"; gapMinutes: number };

const recurrence = ({ refusal }: { refusal: RecurrenceDetail }): string => {
  switch (refusal.code) {
    case "not_a_rule":
      return "This is not a recurrence rule of RFC 5545, such as FREQ=WEEKLY;BYDAY=MO.";
    case "too_often":
      return "Doors open once a day at most: weekly, monthly or daily rules.";
    case "never_occurs":
      return "No day fits this rule.";
    case "part_unknown":
      return `“${refusal.part}” is no part of a recurrence rule that is understood here.`;
    case "part_twice":
      return `${refusal.part} stands in the rule twice.`;
    case "part_wrong":
      return `${refusal.part}=${refusal.value} is not possible (RFC 5545).`;
    case "parts_clash":
      if (refusal.part === "FREQ") return "The rule must say how often: FREQ=WEEKLY, for example.";
      return refusal.with
        ? `${refusal.part} and ${refusal.with} do not go together (RFC 5545).`
        : `${refusal.part} needs another BY… beside it (RFC 5545).`;
    case "first_out_of_range":
      return `The first opening must lie between the years ${refusal.from} and ${refusal.to}.`;
    case "windows_overlap":
      return `The doors would open again after ${lengthWords(refusal.gapMinutes)}, before they have closed. Make it shorter than that.`;
  }
};

/** What is said of an amount that could not be read, with an example in minor units. */
const amount = ({ refusal, currency, example = 1_700 }: { refusal: AmountRefusal; currency: string; example?: number }, locale: Locale): string => {
  const such = `such as ${formatMoney(example, currency, locale)}`;
  switch (refusal.code) {
    case "ambiguous": {
      const readings = refusal.readings.map((minor) => formatMoney(minor, currency, locale));
      return readings.length === 1
        ? `This may mean ${readings[0]}. If it does, type it like that.`
        : `This can be read as ${readings.join(" or as ")}. Type it as one of these.`;
    }
    case "too_fine":
      return refusal.digits === 0
        ? `${currency} has no smaller unit: give a whole amount, ${such}.`
        : `${currency} has ${refusal.digits} decimal places: give an amount, ${such}.`;
    case "other_currency":
      return `The amount is in ${currency}: give it as such, ${such}.`;
    case "not_an_amount":
      return `Give an amount, ${such}.`;
  }
};

/** What can be wrong with a field, in English: what is expected, in one short sentence. */
export const faults = {
  // What follows from a rule by itself.
  missing: "This is needed.",
  unreadable: "This cannot be read. Look at it again.",
  not_a_number: "Give a number.",
  not_whole: "A whole number, please.",
  too_short: ({ least }: { least: number }) => `${whole(least)} characters at least.`,
  too_long: ({ most }: { most: number }) => `${whole(most)} characters at most.`,
  too_low: ({ least }: { least: number }) => (least === 0 ? "Not below zero." : least === 1 ? "One at least." : `${whole(least)} at least.`),
  too_high: ({ most }: { most: number }) => `${whole(most)} at most.`,
  too_few: ({ least }: { least: number }) => `Choose ${least === 1 ? "one" : whole(least)} at least.`,
  too_many: ({ most }: { most: number }) => `${whole(most)} at most.`,
  not_an_address: "An address begins with https:// or http://.",

  // People.
  not_an_email: "This does not look like an email address. Is something missing?",
  first_name_missing: "What may we call you?",
  name_missing: "Under which name?",
  not_a_name: "A name alone, please, without an address or a link.",
  country_missing: "Choose your country: the tax depends on it.",
  consent_missing: "Tick the box if you want the emails; without it we may not write to you.",
  not_a_phone: "Digits, with the country's code in front, such as +351 912 345 678.",
  not_of_the_list: "Choose one of the list.",
  wrong_login: "Address and password do not belong together.",
  not_the_present_password: "This is not your current password.",
  member_already: "Somebody with this address belongs to the team already.",
  words_missing: "Write something first.",
  application_words_missing: "Say in a sentence whom you would tell.",
  one_line: "One line, without < and >.",
  vendor_name_missing: "The name that pages and emails say.",
  tax_number_missing: "The number as it stands on your papers.",
  retention_short: ({ least }: { least: number }) => `${whole(least)} days at least; empty keeps it for good.`,
  retention_long: ({ most }: { most: number }) => `${whole(most)} days at most; empty keeps it for good.`,

  // Money.
  amount,
  above_zero: ({ currency, example = 1_700 }: { currency: string; example?: number }, locale: Locale) =>
    `Give an amount above zero, such as ${formatMoney(example, currency, locale)}.`,
  least_amount: ({ minor, currency }: { minor: number; currency: string }, locale: Locale) => `${formatMoney(minor, currency, locale)} at least.`,
  amount_elsewhere: ({ currency }: { currency: string }) => `It is free, so nothing stands in proportion: say the amount in ${currency} too.`,
  not_in_currency: "It is not sold in this currency.",
  product_currency: ({ currency }: { currency: string }) => `It is sold in ${currency}; an order has one currency.`,
  launch_currency: ({ theirs, own }: { theirs: string; own: string }) => `That launch sells in ${theirs}, this one in ${own}.`,
  currency_missing: "Choose a currency from the list.",
  refund_missing: "Say how much goes back.",
  more_than_left: ({ left, currency }: { left: number; currency: string }, locale: Locale) =>
    `Above zero, and no more than the ${formatMoney(left, currency, locale)} that are left.`,
  access_product_missing: "Choose what is given.",
  access_until_missing: "Give the whole date and time.",
  access_until_past: "That is over already.",
  reason_missing: "Say why; only the desk reads this.",
  paid_missing: "What was paid, tax included.",
  paid_how_missing: "How was it paid? Only the desk reads this.",
  percent: "Percent, such as 23 or 5.5.",
  percent_off: "Percent, such as 10 or 12.5; 100 at most.",
  not_a_region: "The part after the country in its ISO 3166-2 code, such as 20 of PT-20.",
  choose_country: "Choose a country.",
  from_day_missing: "Give the day from which it applies.",
  no_such_day: "There is no such day.",

  // The checkout.
  checkout_unknown: "This checkout is not known. Start it again.",
  card_missing: "Fill in the card first.",
  waiver_missing: "Tick this box: without it, access could begin only after the days in which you may withdraw.",
  terms_missing: "Tick this box if you agree. Nothing is charged without it.",
  vat_number: "This is no VAT number of that country: perhaps a digit is wrong. Leave it empty if you buy for yourself.",
  coupon: ({ why }: { why: keyof typeof coupons }) => coupons[why],

  // People.
  consent_words_missing: "Write down what they agreed to, in the words that they read: it is your proof.",
  consent_at_missing: "Say when they agreed: a day for all, or the column that holds it.",
  email_column_missing: "Choose the column that holds the email addresses.",
  column_twice: "Two columns cannot hold the same. Leave one of them out.",
  question_missing: "Name the question that this column answers.",
  cells_more: ({ cells, columns }: { cells: number; columns: number }) => `${cells} cells, and the file has ${columns} columns.`,
  country_unknown: ({ typed }: { typed: string }) => `“${typed}” is no country: two letters (ISO 3166-1) or its English name.`,
  instant_unread: "No instant that can be read: a day as 2026-11-30, or 2026-11-30T18:00Z.",
  in_the_future: "Nobody agrees in the future.",
  twice_in_file: ({ line }: { line: number }) => `The same address stands in line ${line}.`,
  erased: "This person asked to be erased. Only they themselves can come back.",
  filter_name_taken: "Another saved filter has this name.",
  sentence: ({ why, text, expected }: { why: "unexpected" | "unknown_name" | "out_of_range"; text: string; expected: string }) =>
    why === "unknown_name"
      ? `Nothing here is called so: “${text}”.`
      : why === "out_of_range"
        ? `“${text}” cannot be asked for: expected ${expected}.`
        : `Not understood from “${text || "the end"}” on: expected ${expected}.`,

  // Products, coupons, offers.
  product_name_missing: "Name what is sold, as the buyer will read it.",
  choose_product: "Choose a product.",
  choose_offer: "Choose what is offered.",
  nested_bundle: "A bundle holds products that are no bundles themselves.",
  coupon_label_missing: "What is it for? Only the desk reads this.",
  coupon_code: "3 to 40 letters, digits and hyphens.",
  condition_missing: "Say first whom it is about.",
  field_name_taken: "There is a field of this name.",
  address_taken: "Somebody else on your list has this address.",
  code_taken: "This code is taken. Choose another.",
  percent_zero: "More than nothing, please.",
  moment_or_empty: "Give a date and a time, or leave it empty.",
  ends_before_begin: "It must end after it begins.",
  no_such_partner: "There is no such partner any more.",
  no_such_template: "There is no such template.",
  on_path_already: "This page stands on the path already.",
  choose_other_launch: "Choose another launch.",
  choose_launch: "Choose a launch.",
  no_such_launch: "There is no such launch.",

  // Pages.
  page_address: "Letters, digits and hyphens; a slash makes a folder, such as bonus/pattern-one.",
  address_in_use: "This launch has a page at this address already.",
  address_archived: "An archived page has this address. Restore it under Pages, or choose another.",
  own_address: "This page stands at the launch's own address, and that one stays.",
  one_checkout: "A launch has one checkout page, and this one has it already.",
  choose_page: "Choose a page to publish.",
  template_name_missing: "Give the template a name.",
  template_name_taken: "Another template has this name.",
  shares_zero: "One of the shares must be above zero.",
  colour: "A colour such as #A34721.",
  two_columns: "Two columns at least.",
  three_columns: "Three columns at most.",
  text_long: "A text this long is better cut in two.",
  picture_gone: "This picture is not there any more.",
  pattern: "This is no pattern that can be used here.",
  groups_deep: "These groups are nested too deeply.",
  days_missing: "Give a number of days.",

  // Files.
  file: ({ why }: { why: FileFault }) => files[why],
  picture_large: ({ megabytes, most }: { megabytes: number; most: number }) =>
    `This picture weighs ${megabytes} MB; ${most} MB is the most. Save it smaller and try again.`,
  picture_small: ({ width, height }: { width: number; height: number }) => `This picture is ${width} by ${height} pixels: too small to be seen.`,
  video_large: ({ megabytes, most }: { megabytes: number; most: number }) =>
    `This video weighs ${megabytes} MB; ${most} MB is the most. Put it where videos are kept and give its address.`,
  part_unreadable: ({ part }: { part: string }) => `The ${part} of the file cannot be read.`,
  part_missing: ({ part }: { part: string }) => `${part} is missing.`,
  part_damaged: ({ part }: { part: string }) => `${part} is damaged.`,
  part_twice: ({ part }: { part: string }) => `${part} is in the file twice.`,
  path_leads_out: ({ to }: { to: string }) => `The offer path leads to “${to}”, which is not in the file.`,
  step_incomplete: ({ page }: { page: string }) => `The offer “${page}” has no page or no product in the file.`,
  not_an_export: "This is no file of pages or launches.",
  newer_export: "This file was written by a newer version of the program.",

  quiet_whole_day: "Quiet hours end at another time than they begin.",
  between: ({ least, most }: { least: number; most: number }) => `A number between ${least} and ${most.toLocaleString("en")}.`,

  // The launch and its clock.
  launch_name_missing: "Give the launch a name.",
  copy_name_missing: "Give the copy a name.",
  launch_name_address: "Give it a name with a letter or a digit: its address is made of it.",
  zone: ({ typed }: { typed: string }) => `“${typed}” is not a time zone of the IANA database, such as Europe/Lisbon.`,
  moment: "Give a date and a time, such as 27 November 2026, 18:00.",
  moment_past: "This moment is over: give one that is to come.",
  time_of_day: "A time such as 20:00, or nothing.",
  whole_days: "With a time of day, whole days.",
  hours: "Between a few minutes and a year.",
  every_weeks: "Every week, or every 2 to 52.",
  closes_first: "The closing bell must ring after the opening bell.",
  run_up_late: "The run-up begins before the doors open.",
  personal_time_missing: "Give each person some time.",
  doors_time_missing: "The doors must be open for a while.",
  recurrence,
  page_gone: ({ page }: { page: string }) => `This launch has no page “${page}” any more. Choose another.`,
  covers_nothing: "Choose at least one page or folder.",
  gate_behind_order: "This page asks for an order, so no gate can answer with it.",
  counts_to_nothing: "It must count to something.",
  countdown_order: "It must appear before it goes.",
  stage_words_missing: "Say it in a word or two.",
  stage_twice: "Another stage begins at the same moment.",
  before_the_bell: "Before the bell.",
  sequence_name_missing: "A sequence needs a name.",
  tag_missing: "Name the tag.",
  no_event_chosen: "Choose at least one thing that is told.",
  address_with_password: "An address with a name or password in it is not taken: the signature says who sends.",
  notice_name_missing: "Name what the other tool reports.",
  ends_before_it_begins: "The doors are closed when this moment comes: a sequence that stops then would send nothing.",
  episode_content: "Only a page of content can be an episode.",
  episode_own_address: "The launch’s own address is never locked: give the episode an address of its own.",
  episode_twice: "This page is in the run already.",
  run_up_needs_dates: "Only a clock with dates of its own has a run-up.",
  prices_need_dates: "Dated prices need a clock with dates of its own.",
  rising_needs_dates: "A price that rises with time needs a clock with dates of its own.",
  rises_too_often: ({ rises, most }: { rises: number; most: number }) =>
    `The price would rise ${whole(rises)} times; ${whole(most)} at most. Let it rise less often, or by more.`,
  cap_below: "The cap lies below the price it starts from.",
  hand_over_loop: ({ through }: { through: readonly string[] }) => `People would go round in a loop: ${through.join(" → ")}.`,
  file_does_not_fit: ({ at }: { at: string }) => `The file does not fit at ${at}.`,
} as const;
