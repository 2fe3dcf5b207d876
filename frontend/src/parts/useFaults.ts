// Faults in the server's words, for reasons of spoiled and mended pieces.
import { useQuery } from "@tanstack/react-query";
import { get, keys } from "../api";

export function useFaults() {
  const found = useQuery({
    queryKey: keys.faults(),
    queryFn: () => get("/faults"),
    staleTime: Infinity,
  });
  const faults = found.data ?? [];
  return {
    faults,
    word: (id: string) => faults.find((fault) => fault.id === id)?.short ?? id,
  };
}
