// What is missing or to be known before a quote goes out, and how the customer will see it.
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { get, keys } from "../../../api";
import { useBench, useHead, useSaved } from "../../../draft";
import style from "./BeforeSending.module.scss";

const LEVELS = { stop: "stop", warn: "look", note: "note" } as const;

/** A draft looked over, once what was typed is kept. */
export function useBeforeSending() {
  const { quote } = useBench();
  const saving = useSaved();
  const { customer, email } = useHead();
  const now = async () => {
    await saving.flush();
    return get("/quotes/{quote_id}/sending", { path: { quote_id: quote.id } });
  };
  const found = useQuery({
    queryKey: keys.sending(quote.id, saving.revision, customer, email),
    queryFn: now,
    placeholderData: (before) => before,
    staleTime: 0,
  });
  return { ...found, now };
}

export function BeforeSending({ found }: { found: ReturnType<typeof useBeforeSending> }) {
  const { quote } = useBench();
  const missing = found.data?.missing ?? [];
  return (
    <section aria-label="Before it goes out" className={style["before"]}>
      <p className="mb-0">
        As the customer will see it:{" "}
        <a href={`/preview/${quote.id}`} target="_blank" rel="noreferrer">
          their page
        </a>
        ,{" "}
        <a href={`/api/v1/quotes/${quote.id}/preview/quote.pdf`} target="_blank" rel="noreferrer">
          the paper (PDF)
        </a>
      </p>
      {missing.length > 0 && (
        <ul>
          {missing.map((each, n) => (
            <li key={n} className={style[each.level]}>
              <span className={style["level"]}>{LEVELS[each.level]}</span>
              <span>
                {each.message}{" "}
                {each.reason ? (
                  <em>Kept: {each.reason}</em>
                ) : each.to ? (
                  <Link to={each.to}>{each.fix}</Link>
                ) : (
                  each.fix
                )}
              </span>
            </li>
          ))}
        </ul>
      )}
      {found.data && missing.length === 0 && <p className="hint mb-0">Nothing is missing.</p>}
    </section>
  );
}
