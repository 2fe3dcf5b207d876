export { Outbox } from "./Outbox";
export { QuotePage } from "./QuotePage";
export { QuotesList } from "./QuotesList";
export { ClassThumb } from "./GoodsThumb";
