// By when a quote could be ready, behind what is promised: asked once for all who show it.
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { get, keys } from "../../../api";
import { useBench } from "../../../draft";
import { costsHidden } from "../../../parts/money";
import { useRested } from "../useRested";

export function usePromise() {
  const { quote, price } = useBench();
  const revision = useRested(price.view.revision);
  const found = useQuery({
    queryKey: keys.promise(quote.id, revision),
    queryFn: () => get("/quotes/{quote_id}/promise", { path: { quote_id: quote.id } }),
    enabled: !costsHidden, // its ways are money
    placeholderData: keepPreviousData,
    staleTime: 0,
  });
  return found.data;
}
