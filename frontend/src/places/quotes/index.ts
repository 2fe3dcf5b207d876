export { Outbox } from "./Outbox";
export { QuotePage } from "./QuotePage";
export { QuotesList } from "./QuotesList";
export { moveOn } from "./Field";
export { ClassThumb } from "./GoodsThumb";
