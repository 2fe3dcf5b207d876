export * from "./context";
export * from "./job";
export * from "./sizes";
export * from "./steps";
export {
  actionsOf,
  canTakeOut,
  createDraftStore,
  draftOf,
  openIn,
  textOf,
  type Actions,
  type Draft,
  type DraftStore,
  type History,
} from "./store";
export { useSaving, type Saving } from "./saving";
export { usePrice, type Price } from "./price";
export { clearOldDrafts, keptOf, type Kept } from "./kept";
