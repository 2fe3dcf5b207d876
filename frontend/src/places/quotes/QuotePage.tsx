// Opens a quote: what the server keeps, and what this browser has that it does not.
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link, useParams } from "react-router";
import { FIRST, get, keys, problemOf, shownWith } from "../../api";
import { draftOf, keptOf, textOf, type Kept } from "../../draft";
import { Loading } from "../../parts/Loading";
import { Told } from "../../parts/Told";
import { landOnNumber } from "./landing";
import { QuoteBench } from "./QuoteBench";

export function QuotePage({ frame }: { frame: React.ReactNode }) {
  const id = Number(useParams()["id"]);
  const quote = useQuery({
    queryKey: keys.quote(id),
    queryFn: () => get("/quotes/{quote_id}", { path: { quote_id: id }, query: shownWith(FIRST) }),
    enabled: Number.isInteger(id),
    staleTime: 0,
    gcTime: 0,
    refetchInterval: (found) => (found.state.error ? 3000 : false),
  });
  const [local, setLocal] = useState<{ of: string; kept: Kept | undefined } | null>(null);
  const of = quote.data ? `${id}.${quote.data.state}.${quote.data.version}` : "";
  useEffect(() => {
    if (of) void keptOf(id).then((kept) => setLocal({ of, kept }));
  }, [id, of]);
  if (!quote.data || local?.of !== of) {
    const problem = problemOf(quote.error);
    return (
      <>
        {frame}
        <main className="standards">
          {!problem && <Loading what="The quote" />}
          <Told of={problem} page>
            <Link to="/quotes">All quotes</Link>
          </Told>
        </main>
      </>
    );
  }
  const view = quote.data;
  const theirs = draftOf(view);
  const { kept } = local;
  const there = textOf(theirs);
  // a page that was left as its last save arrived holds as unsent what the server has
  const equal = kept !== undefined && textOf(kept.draft) === there;
  const ours = kept?.sending === there; // its write arrived after the page was left
  const fits = kept?.base === there || equal || ours;
  const editable = view.state === "draft";
  const mine = editable && kept && (fits || kept.unsent) ? kept : null;
  return (
    <QuoteBench
      key={of}
      frame={frame}
      quote={view}
      start={mine?.draft ?? theirs}
      history={mine?.history ?? { past: [], future: [] }}
      revision={view.revision}
      apart={mine && !fits ? mine.base : undefined}
      saved={theirs}
      sending={kept?.sending}
      reopen={() => {
        landOnNumber();
        void quote.refetch();
      }}
    />
  );
}
