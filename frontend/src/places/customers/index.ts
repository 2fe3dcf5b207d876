export { CustomersList } from "./CustomersList";
export { CustomerPage } from "./CustomerPage";
