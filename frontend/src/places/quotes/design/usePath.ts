import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { get, keys, problemOf } from "../../../api";
import { TO_COME, NAME_MARK, text, wayOf, useOpen, type DraftPlacement } from "../../../draft";
import { threadColours } from "../place";

const fileQuery = (sha256: string, enabled: boolean) => ({
  queryKey: keys.path(sha256),
  queryFn: () => get("/designs/{sha256}/path", { path: { sha256 } }),
  enabled: enabled && sha256 !== "",
  staleTime: Infinity,
});

/** What is wrong with a placement's file, in the server's words; null where it can be drawn. */
export function usePathProblem({ design }: DraftPlacement) {
  const file = useQuery(fileQuery(text(design.sha256), wayOf(design) === "file"));
  return problemOf(file.error);
}

/** The path to draw, in its threads: of a file, or of words (the longest name); null for a count. */
export function usePath(placement: DraftPlacement) {
  const names = useOpen((open) => open.line.names);
  const { design } = placement;
  const way = wayOf(design);
  const [longest] = (names ?? [])
    .filter((name) => name !== TO_COME)
    .sort((a, b) => b.length - a.length);
  const words = text(design.text);
  const lettered = longest ? words.replaceAll(NAME_MARK, longest) : words;
  const height = text(design.height_mm).trim() || undefined;
  const sha256 = text(design.sha256);
  const file = useQuery(fileQuery(sha256, way === "file"));
  const drawn = useQuery({
    queryKey: keys.words(lettered, height),
    queryFn: () => get("/words", { query: { text: lettered, height_mm: height } }),
    enabled: way === "words" && lettered.trim() !== "",
    staleTime: Infinity,
    retry: false,
  });
  const own = threadColours(placement).join();
  const found = { words: drawn.data?.path, file: file.data, count: undefined }[way] ?? null;
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
