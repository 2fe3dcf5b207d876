export { BackupsPage } from "./BackupsPage";
export { StandardsPage } from "./StandardsPage";
