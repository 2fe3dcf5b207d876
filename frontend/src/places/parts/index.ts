export { PartsPage } from "./PartsPage";
