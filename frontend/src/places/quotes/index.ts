export { QuoteBench } from "./QuoteBench";
