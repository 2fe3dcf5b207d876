// The doors of quotes: each page is fetched as it is opened.
import { lazy } from "react";

export const Outbox = lazy(() =>
  import("./sending/Outbox").then(({ Outbox }) => ({ default: Outbox })),
);
export const QuotePage = lazy(() =>
  import("./QuotePage").then(({ QuotePage }) => ({ default: QuotePage })),
);
export const QuotesList = lazy(() =>
  import("./QuotesList").then(({ QuotesList }) => ({ default: QuotesList })),
);
