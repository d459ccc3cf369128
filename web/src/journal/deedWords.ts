const words: Record<string, string> = {
  "site.narrow": "narrowing was asked for",
  "order.undo": "an order was undone",
  "order.sent": "an order was sent to the host",
  "order.confirmed": "the host confirmed an order",
  "order.seen": "an order's effect was seen",
  "order.contradicted": "a read contradicted an order",
  "order.refused": "the host refused an order",
  "order.givenup": "an order was given up",
  "site.seen": "a change at the host was seen",
  "site.vanished": "a site vanished from its host",
  "register.loaded": "sites were first read",
  "people.seen": "people or groups changed",
  "house.founded": "the house was set up",
  "account.given": "an account was given",
  "session.began": "somebody signed in",
  "session.revoked": "a session was ended",
  "sign-in.refused": "sign-ins were refused",
  refused: "an attempt was refused",
};

/** A deed as the journal names it, in words that follow "where". */
export const deedWords = (deed: string) => words[deed] ?? deed;
