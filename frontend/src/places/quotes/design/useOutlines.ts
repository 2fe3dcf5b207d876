// What a design's blocks are sewn along, and what hands did for it last; nothing without a file.
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { get, keys, type DesignOutlines } from "../../../api";
import { text, useOpenPlace, wayOf } from "../../../draft";

type Outlined = DesignOutlines[number];

const asked = (sha256: string) => ({
  queryKey: keys.outlines(sha256),
  queryFn: () => get("/designs/{sha256}/outlines", { path: { sha256 } }),
  staleTime: Infinity,
});

const grown = (found: Outlined, scale: number): Outlined => ({
  ...found,
  x_mm: found.x_mm * scale,
  y_mm: found.y_mm * scale,
  width_mm: found.width_mm * scale,
  height_mm: found.height_mm * scale,
  length_mm: found.length_mm * scale,
  points: found.points.map((each) => each * scale),
});

/** Outlines of the open place's blocks, as large as it is sewn, once they are read. [mm] */
export function useOutlines() {
  const { placement } = useOpenPlace();
  const queries = useQueryClient();
  const { design } = placement;
  const sha256 = wayOf(design) === "file" ? text(design.sha256) : "";
  const scale = Number(design.scale ?? 1) || 1;
  const { data } = useQuery({ ...asked(sha256), enabled: sha256 !== "" });
  const outlines = (sha256 ? (data ?? []) : []).map((found) => grown(found, scale));
  /** The same, waited for; none where they cannot be read. */
  const read = async () => {
    if (!sha256) return [];
    const found = await queries.fetchQuery(asked(sha256)).catch(() => []);
    return found.map((each) => grown(each, scale));
  };
  return { outlines, read };
}

/** What hands did last for the open place's design. */
export function useRemembered() {
  const { placement } = useOpenPlace();
  const sha256 = wayOf(placement.design) === "file" ? text(placement.design.sha256) : "";
  const { data } = useQuery({
    queryKey: keys.design(sha256),
    queryFn: () => get("/designs/{sha256}", { path: { sha256 } }),
    enabled: sha256 !== "",
    staleTime: 0,
  });
  return sha256 ? (data?.steps ?? []) : [];
}
