export { BeginPage } from "./BeginPage";
