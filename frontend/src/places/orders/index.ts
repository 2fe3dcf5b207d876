export { OrdersList } from "./OrdersList";
export { OrderPage } from "./OrderPage";
export { RunSheetPage } from "./RunSheetPage";
export { PlanPage } from "./PlanPage";
