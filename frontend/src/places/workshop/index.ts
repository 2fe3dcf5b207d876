export { StandardsPage } from "./StandardsPage";
