// The shelf: what lies on it, one item with its moves, what is to buy and what was ordered.
export { ItemPage } from "./ItemPage";
export { ShelfPage } from "./ShelfPage";
export { ToBuyPage } from "./ToBuyPage";
