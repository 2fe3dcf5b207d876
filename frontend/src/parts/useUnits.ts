import { useQueryClient } from "@tanstack/react-query";
import { useSyncExternalStore } from "react";
import { keys, put, useShopHouse, type House } from "../api";
import type { Units } from "./units";

let turns = 0;
const listeners = new Set<() => void>();

/** How often the units were turned: an estimate that was asked for before has the old words. */
export const turnsNow = () => turns;

export function sayTurned() {
  turns += 1;
  listeners.forEach((listen) => listen());
}

const subscribe = (listen: () => void) => {
  listeners.add(listen);
  return () => listeners.delete(listen);
};

export const useTurns = () => useSyncExternalStore(subscribe, turnsNow);

/** The seller's units, and a turn to the other ones: kept with the shop's standards. */
export function useUnits(): { units: Units; turn: () => void } {
  const queries = useQueryClient();
  const house = useShopHouse();
  const units = house.data?.shop.units ?? "metric";
  const turn = () => {
    const next: Units = units === "metric" ? "imperial" : "metric";
    queries.setQueryData<House>(
      keys.house(),
      (old) => old && { ...old, shop: { ...old.shop, units: next } },
    );
    void put("/standards/{key}", { path: { key: "shop.units" }, body: { value: next } })
      .then(sayTurned)
      .catch(() => queries.invalidateQueries());
  };
  return { units, turn };
}
