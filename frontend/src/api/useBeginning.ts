// How far the setting up of the shop is.
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { get, keys, put, type Schemas } from "./index";
import { costsHidden } from "../parts/money";

export function useBeginning() {
  const queries = useQueryClient();
  const beginning = useQuery({
    queryKey: keys.beginning(),
    queryFn: () => get("/beginning"),
    enabled: !costsHidden,
  });
  const change = useMutation({
    mutationFn: (now: Schemas["Beginning"]) => put("/beginning", { body: now }),
    onSuccess: (now) => queries.setQueryData(keys.beginning(), now),
  });
  return { beginning: beginning.data, isPending: beginning.isPending, change };
}
