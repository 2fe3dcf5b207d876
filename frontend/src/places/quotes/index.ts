export { Outbox } from "./sending/Outbox";
export { QuotePage } from "./QuotePage";
export { QuotesList } from "./QuotesList";
