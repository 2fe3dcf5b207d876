export { MachinePage } from "./MachinePage";
export { PassesPage } from "./PassesPage";
export { useFaults } from "./faults";
