// How a list is looked at: in the address, so that it can be linked to; kept while one is elsewhere.
import { useEffect, useRef, useState } from "react";
import { useSearchParams } from "react-router";

export interface Look {
  search: string;
  sort: string;
  /** The sort turned round, or not; unsaid, as it usually goes. */
  down: boolean | undefined;
  /** What the server is asked: the search, the sort and its way. */
  asked: { search: string; sort: string; down: boolean | undefined };
  /** The same, as an address has it. */
  written: { search: string; sort: string; down: string };
  value: (key: string) => string;
  set: (key: string, value: string) => void;
  /** Sort by a head: pressed again it turns round. */
  sortBy: (key: string, usual: boolean) => void;
}

export function useLook(list: string, first: string): Look {
  const [address, setAddress] = useSearchParams();
  // what was pressed is looked at so at once: the address follows when the page is drawn
  const [pressed, setPressed] = useState<URLSearchParams | null>(null);
  if (pressed?.toString() === address.toString()) setPressed(null);
  const where = pressed ?? address;
  const begun = useRef(false);
  const key = `look.${list}`;
  useEffect(() => {
    if (!begun.current && address.size === 0) {
      const kept = sessionStorage.getItem(key);
      if (kept) setAddress(new URLSearchParams(kept), { replace: true });
    } else sessionStorage.setItem(key, address.toString());
    begun.current = true;
  }, [key, setAddress, address]);
  // changed from what the address is now: two presses in a row may come before either is drawn
  const write = (change: (now: URLSearchParams) => Record<string, string>) => {
    const next = new URLSearchParams(window.location.search);
    for (const [name, value] of Object.entries(change(next))) {
      if (value) next.set(name, value);
      else next.delete(name);
    }
    setPressed(next);
    setAddress(next, { replace: true });
  };
  const sort = where.get("sort") ?? first;
  const turned = where.get("down");
  const down = turned === null ? undefined : turned === "true";
  const search = where.get("search") ?? "";
  return {
    search,
    sort,
    down,
    asked: { search, sort, down },
    written: { search, sort, down: down === undefined ? "" : String(down) },
    value: (name) => where.get(name) ?? "",
    set: (name, value) => write(() => ({ [name]: value })),
    sortBy: (name, usual) =>
      write((now) => {
        const falls = now.get("down") === null ? usual : now.get("down") === "true";
        const again = name === (now.get("sort") ?? first);
        return { sort: name === first ? "" : name, down: again ? String(!falls) : "" };
      }),
  };
}
