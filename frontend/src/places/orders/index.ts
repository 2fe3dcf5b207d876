export { OrdersList } from "./OrdersList";
export { OrderPage } from "./OrderPage";
