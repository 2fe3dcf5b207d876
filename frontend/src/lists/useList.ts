// A list that is asked for page after page, as it is looked at now.
import { keepPreviousData, useInfiniteQuery, useQuery } from "@tanstack/react-query";

/** A page of a list, as the server answers it. */
export interface PageOf<Row> {
  items: Row[];
  next: string | null;
  total: number;
}

export interface List<Row> {
  rows: Row[];
  /** How many there are in all; null while that is not known. */
  total: number | null;
  pending: boolean;
  error: unknown;
  /** Asks for the next page; null where all of it is here. */
  more: (() => void) | null;
}

interface Asked<Page> {
  /** What it is kept under: its name, and all that it is asked by. */
  key: unknown[];
  page: (cursor: string) => Promise<Page>;
  /** Asked for again by itself after so long. */
  listens_ms?: number;
}

export function useList<Page extends PageOf<unknown>>({ key, page, listens_ms }: Asked<Page>) {
  const found = useInfiniteQuery({
    queryKey: key,
    queryFn: ({ pageParam }) => page(pageParam),
    initialPageParam: "",
    getNextPageParam: (last) => last.next,
    placeholderData: keepPreviousData,
    staleTime: 0,
    ...(listens_ms ? { refetchInterval: listens_ms, refetchOnWindowFocus: true } : {}),
  });
  const { data, isPending, error, hasNextPage, isFetchingNextPage, fetchNextPage } = found;
  const first = data?.pages[0];
  return {
    /** Its first page, with what is told there of the whole. */
    first,
    rows: (data?.pages.flatMap((each) => each.items) ?? []) as Page["items"],
    total: first?.total ?? null,
    pending: isPending,
    error,
    more: hasNextPage ? () => void (isFetchingNextPage || fetchNextPage()) : null,
  };
}

/** A list that comes whole. */
export function useWhole<Row, View>(
  key: unknown[],
  ask: () => Promise<View>,
  rowsOf: (view: View) => Row[],
): List<Row> & { view: View | undefined } {
  const { data, isPending, error } = useQuery({
    queryKey: key,
    queryFn: ask,
    placeholderData: keepPreviousData,
    staleTime: 0,
  });
  const rows = data ? rowsOf(data) : [];
  return {
    rows,
    total: data ? rows.length : null,
    pending: isPending,
    error,
    more: null,
    view: data,
  };
}
