import { counted } from "../counted";

const places = { desk: "the desk", partner: "the partner portal", buyer: "your library" } as const;

/** The fixed words of emails, in English: all that the vendor does not write. Amounts and moments come written in the locale. */
export const emails = {
  /** Who is greeted whose name is not known. */
  reader: "there",
  hello: (firstName: string) => (firstName ? `Hello ${firstName},` : "Hello,"),
  footer: (vendor: string) => `You receive this because you asked ${vendor} for it, or started an order.`,
  unsubscribe: "Unsubscribe",
  confirm: {
    subject: (launch: string) => `Please confirm your address: ${launch}`,
    why: (launch: string) => `Somebody entered this address to join the list of ${launch}. If it was you, click the link, and you are on it.`,
    notYou: "If it was not you, do nothing: we will not write again.",
    link: "Yes, put me on the list",
  },
  invitation: {
    subject: (by: string, vendor: string) => `${by} invites you to the desk of ${vendor}`,
    what: (by: string, vendor: string, role: string) =>
      `${by} invites you to work at the desk of ${vendor}, as ${role}. Click the link, enter your name and choose a password.`,
    holds: (days: number, by: string) => `The link is valid for ${counted(days, "day")}. If you do not know ${by}, do nothing.`,
    link: "Join the team",
  },
  newPassword: {
    subject: (place: keyof typeof places, vendor: string) => `A new password for ${places[place]}, ${vendor}`,
    what: (place: keyof typeof places) => `This link lets you choose a new password for ${places[place]}. It is valid for a day, and works once.`,
    notYou: "If you did not ask for it, do nothing: your password stays as it is.",
    link: "Choose a new password",
  },
  library: {
    subject: "The link to your library",
    what: "This link opens your library: your orders, your receipts and your subscriptions. It is valid for a day.",
    notYou: "If you did not ask for it, do nothing.",
    link: "Open my library",
  },
  bell: { link: "Go to the page" },
  /** To those who were told a closing that was moved since. */
  moved: {
    subject: (launch: string) => `${launch} closes at another time than we wrote`,
    text: (launch: string, deadline: string) =>
      `An earlier email of ours named another time. The doors of ${launch} close ${deadline}. This is the time that the page and the checkout go by.`,
  },
  /** What the emails say that a launch begins with. */
  usual: {
    "doors-open": {
      subject: (launch: string) => `The doors of ${launch} are open`,
      text: (launch: string) => `${launch} is open. You find it at the address below.`,
    },
    "last-day": {
      subject: (launch: string) => `${launch} closes in a day`,
      text: (launch: string) => `The doors of ${launch} close in a day. The countdown on the page shows the very moment.`,
    },
    "last-hour": {
      subject: (launch: string) => `${launch}: the last hour`,
      text: (launch: string) => `The doors of ${launch} close in an hour. After that the checkout takes no more orders.`,
    },
    episode: {
      subject: (n: string) => `Episode ${n} is ready`,
      text: (n: string, launch: string) => `Episode ${n} before the doors of ${launch} open. You find it at the address below.`,
    },
  },
  moment: (moment: string, city: string) => `${moment}, ${city} time`,
  welcome: {
    subject: (launch: string) => `You are on the list for ${launch}`,
    open: (launch: string) => `The doors of ${launch} are open to you now.`,
    waits: (launch: string) => `You will find ${launch} at the address below.`,
    onTheList: (why: string) => `${why}; you are on the list`,
    gift: "Download what was promised",
    link: (launch: string) => `Go to ${launch}`,
  },
  receipt: {
    subject: (number: string) => `Your receipt, order ${number}`,
    testSubject: (subject: string) => `[Test] ${subject}`,
    thanks: "Thank you for your order.",
    test: "This order was made in test mode: nothing was charged, and it counts nowhere.",
    line: (name: string, gross: string, taxName: string, tax: string) => `${name}: ${gross}, incl. ${taxName} ${tax}`,
    paid: (total: string, taxName: string, tax: string, number: string) => `Paid ${total}, incl. ${taxName} ${tax}. Order ${number}.`,
    total: (total: string, taxName: string, tax: string, number: string) => `Total ${total}, incl. ${taxName} ${tax}. Order ${number}.`,
    code: (name: string, discount: string) => `Discount with the code ${name}: ${discount}, before tax.`,
    authorized: (amount: string) => `${amount} of it: authorized on your card, and charged when your order ships.`,
    reverse: (vatNumber: string) => `Reverse charge: ${vatNumber} accounts for the tax.`,
    library: "Open your library",
    link: "See your order",
  },
  partnerWelcome: {
    subject: (vendor: string) => `You are a partner of ${vendor}`,
    what: (rate: string, code: string) =>
      `You earn ${rate} of what remains after tax of every sale that comes through your link. Your code is ${code}.`,
    next: "Choose a password by the link below; your links and your earnings are in the portal. The link is valid for seven days.",
    link: "Choose a password",
  },
  recovery: {
    subject: (product: string) => `You have not finished your order of ${product}`,
    what: (product: string) =>
      `You started an order of ${product} and did not finish it. Nothing was charged. The link below brings back the checkout as you left it.`,
    closes: (moment: string) => `The doors close on ${moment}.`,
    link: "Finish my order",
  },
} as const;
