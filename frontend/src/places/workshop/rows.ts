// The rows of a table of standards.
import { type Standard } from "../../api";

/** Tables that a shop adds rows of its own to, each like one that is there. */
export const ADDABLE = [
  "goods", "machines", "hoops", "threads", "thread_shelf", "putups", "bobbins", "backings", "rolls", "sheet_goods", "sheets",
  "hardware", "suppliers",
]; // prettier-ignore

/** The rows of a table by their ids, each with its cells by column. */
export function rowsOf(section: string, all: Standard[]): Map<string, Map<string, Standard>> {
  const found = new Map<string, Map<string, Standard>>();
  for (const each of all.filter((s) => s.key.startsWith(`${section}.`))) {
    const [, row = "", column = ""] = each.of
      ? each.key.split(".")
      : ["", "", each.key.split(".")[1]];
    const cells = found.get(row) ?? new Map<string, Standard>();
    cells.set(column, each);
    found.set(row, cells);
  }
  return found;
}
