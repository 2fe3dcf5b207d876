// How far the setting up of the shop is.
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api } from "../../api/client";
import { costsHidden } from "../../parts/money";

export function useBeginning() {
  const queries = useQueryClient();
  const beginning = useQuery({
    queryKey: ["beginning"],
    queryFn: api.beginning,
    enabled: !costsHidden,
  });
  const change = useMutation({
    mutationFn: api.changeBeginning,
    onSuccess: (now) => queries.setQueryData(["beginning"], now),
  });
  return { beginning: beginning.data, isPending: beginning.isPending, change };
}
