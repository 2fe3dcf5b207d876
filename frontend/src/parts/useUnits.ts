import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type House } from "../api/client";
import type { Units } from "./units";

/** The seller's units, and a turn to the other ones: kept with the shop's standards. */
export function useUnits(): { units: Units; turn: () => void } {
  const queries = useQueryClient();
  const house = useQuery({ queryKey: ["house"], queryFn: api.house });
  const units = house.data?.shop.units ?? "metric";
  const turn = () => {
    const next: Units = units === "metric" ? "imperial" : "metric";
    queries.setQueryData<House>(
      ["house"],
      (old) => old && { ...old, shop: { ...old.shop, units: next } },
    );
    void api
      .changeStandard("shop.units", next)
      .then(() => queries.invalidateQueries({ queryKey: ["price"] })) // its words are in them
      .catch(() => queries.invalidateQueries());
  };
  return { units, turn };
}
