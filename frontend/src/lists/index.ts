export { ListFiles } from "./ListFiles";
export { ListPage } from "./ListPage";
export { ListTable, type Column } from "./ListTable";
export { Switch } from "./Switch";
export { useList, useWhole } from "./useList";
export { useLook, type Look } from "./useLook";
