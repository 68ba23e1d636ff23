/** What an email may do inside the desk: show itself with its inline styles, and nothing else. */
export const emailPolicy =
  "default-src 'none'; style-src 'unsafe-inline'; img-src 'self' data:; frame-ancestors 'self'; form-action 'none'; base-uri 'none'";
