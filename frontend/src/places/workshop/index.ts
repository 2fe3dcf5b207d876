export { BackupsPage } from "./BackupsPage";
export { StandardsPage } from "./StandardsPage";
export { TablePage } from "./TablePage";
