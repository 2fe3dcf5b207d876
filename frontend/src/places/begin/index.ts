export { BeginPage, OpensOn } from "./BeginPage";
