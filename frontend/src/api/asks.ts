// What is asked for in more than one place, and needs more than its address.
import { useQuery } from "@tanstack/react-query";
import { setLocale } from "../parts/format";
import { get, goOnAnew, post } from "./call";
import { keys } from "./keys";
import type { Standard } from "./types";

/** The shop's own standards, as it counts with them; its way of writing figures is taken on. */
export const askHouse = () =>
  get("/house").then((found) => {
    setLocale(found.shop.locale ?? "en-GB");
    return found;
  });

export const useShopHouse = () => useQuery({ queryKey: keys.house(), queryFn: askHouse });

/** Every standard, page after page. */
export async function standards(): Promise<Standard[]> {
  const found: Standard[] = [];
  for (let cursor: string | null = ""; cursor !== null;) {
    const page: { items: Standard[]; next: string | null } = await get("/standards", {
      query: { cursor },
    });
    found.push(...page.items);
    cursor = page.next;
  }
  return found;
}

export const useStandards = () => useQuery({ queryKey: keys.standards(), queryFn: standards });

/** A run, simulated as it is expected: of an order, or of a quote as it stands. */
export const run = (of: "orders" | "quotes", id: number) =>
  of === "orders"
    ? get("/orders/{order_id}/run", { path: { order_id: id } })
    : get("/quotes/{quote_id}/run", { path: { quote_id: id } });

/** A dropped table, .csv or .xlsx, as text. */
export const sheetText = (file: File) => post("/sheets", { file }).then(({ text }) => text);

/** Go back to a backup: this page goes on with what is there then. */
export const restoreBackup = (name: string) =>
  post("/backups/{name}/restore", { path: { name } }).then((backup) => {
    goOnAnew();
    return backup;
  });
