import { useQuery } from "@tanstack/react-query";
import { api } from "../../api/client";
import { NAME_MARK, namesOf, type DraftDesign, type DraftLine } from "./draft";

/** The path to draw: of a file, or of words (the longest name). Null for a count. */
export function usePath(design: DraftDesign, line: DraftLine) {
  const [longest] = namesOf(line.names).sort((a, b) => b.length - a.length);
  const text = longest ? design.text.replaceAll(NAME_MARK, longest) : design.text;
  const height = design.height_mm.trim() || undefined;
  const file = useQuery({
    queryKey: ["path", design.sha256],
    queryFn: () => api.designPath(design.sha256),
    enabled: design.way === "file" && design.sha256 !== "",
    staleTime: Infinity,
  });
  const lettered = useQuery({
    queryKey: ["words", text, height],
    queryFn: () => api.words(text, height),
    enabled: design.way === "words" && text.trim() !== "",
    staleTime: Infinity,
    retry: false,
  });
  if (design.way === "words") return lettered.data?.path ?? null;
  return design.way === "file" ? (file.data ?? null) : null;
}
