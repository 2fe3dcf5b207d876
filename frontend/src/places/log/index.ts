export { LogPage } from "./LogPage";
export { LogRowPage } from "./LogRowPage";
export { LearnPage } from "./LearnPage";
export { PaysPage } from "./PaysPage";
