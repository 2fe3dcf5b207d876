// Whom a quote is for: known customers are offered while one types; their e-mail comes with them.
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useId } from "react";
import { get, keys, type CustomerRow } from "../../api";
import { useBench, useHead } from "../../draft";
import { costsHidden } from "../../parts/money";

const OFFERED = 8;
const SAME = (a: string, b: string) =>
  a.trim().replace(/\s+/g, " ").toLowerCase() === b.trim().replace(/\s+/g, " ").toLowerCase();

/** The customers whose name begins so; none while a customer looks at the screen. */
export function useKnown(typed: string) {
  const search = typed.trim();
  const { data } = useQuery({
    queryKey: keys.customers("known", search),
    queryFn: () => get("/customers", { query: { search, sort: "last", limit: OFFERED } }),
    enabled: !costsHidden,
    placeholderData: keepPreviousData,
  });
  const known = data?.items ?? [];
  const whose: CustomerRow | undefined = known.find((row) => SAME(row.name, typed));
  return { known, whose };
}

interface Props {
  id: string;
  autoFocus?: boolean;
}

export function CustomerInput({ id, autoFocus = false }: Props) {
  const list = useId();
  const head = useHead();
  const { actions } = useBench();
  const { known } = useKnown(head.customer);
  const choose = (customer: string) => {
    const now = known.find((row) => SAME(row.name, customer));
    const before = known.find((row) => SAME(row.name, head.customer));
    // an address that came with somebody else goes with them; one that was typed stays
    const came = head.email !== "" && head.email === before?.email;
    const email = came || head.email === "" ? (now?.email ?? "") : head.email;
    actions.head({ customer, email });
  };
  return (
    <>
      <input
        id={id}
        className="form-control"
        autoFocus={autoFocus}
        autoComplete="off"
        list={list}
        value={head.customer}
        onChange={(e) => choose(e.target.value)}
      />
      <datalist id={list}>
        {known.map((row) => (
          <option key={row.id} value={row.name}>
            {row.email}
          </option>
        ))}
      </datalist>
    </>
  );
}
