export { MachinePage } from "./MachinePage";
export { PassesPage } from "./PassesPage";
