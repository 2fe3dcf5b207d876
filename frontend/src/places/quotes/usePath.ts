import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { api } from "../../api/client";
import { NAME_MARK, namesOf, type DraftLine, type DraftPlacement } from "./draft";
import { threadColours } from "./place";

/** The path to draw, in its threads: of a file, or of words (the longest name); null for a count. */
export function usePath(placement: DraftPlacement, line: DraftLine) {
  const { design } = placement;
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
  const own = threadColours(placement).join();
  const found =
    { words: lettered.data?.path, file: file.data, count: undefined }[design.way] ?? null;
  return useMemo(() => {
    if (!found || !own) return found;
    const colours = own.split(",");
    const blocks = found.blocks.map((block, i) => ({
      ...block,
      colour: colours[i] ?? block.colour,
    }));
    return { ...found, blocks };
  }, [found, own]);
}
