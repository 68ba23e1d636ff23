/** Logins of the demo. Shown on the porch and by the start command. */
export const logins = [
  { what: "Desk, owner", email: "owner@marram.example", password: "herringbone-owner", role: "owner" },
  { what: "Desk, may only look", email: "viewer@marram.example", password: "herringbone-viewer", role: "viewer" },
  { what: "Partner portal, Skerry Yarns", email: "isla@skerry.example", password: "skerry-partner", role: "partner" },
  { what: "Library of a buyer", email: "wren@heath.example", password: "wren-garter-stitch", role: "buyer" },
];
