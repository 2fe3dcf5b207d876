// What can be done with a quote that was sent: its answer, once more, its customer's page, revise.
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { del, post, useRenew } from "../../../api";
import { useBench } from "../../../draft";
import { useTell } from "../../../parts/toasts";
import { CustomerLink } from "./CustomerSide";
import { Tool } from "../Tool";

export function NextSteps({ reopen }: { reopen: () => void }) {
  const { quote } = useBench();
  const renew = useRenew("quotes");
  const tell = useTell();
  const done = () => {
    void renew();
    reopen();
  };
  const answer = useMutation({
    mutationFn: (said: "accepted" | "declined") =>
      post("/quotes/{quote_id}/answer", {
        path: { quote_id: quote.id },
        seen: quote.revision,
        body: { answer: said },
      }),
    onSuccess: (view) =>
      tell(`${view.number} is ${view.state}.`, {
        label: "Undo",
        does: () =>
          void del("/quotes/{quote_id}/answer", {
            path: { quote_id: view.id },
            seen: view.revision,
          }).then(done, done),
      }),
    onSettled: done,
  });
  const back = useMutation({
    mutationFn: () =>
      del("/quotes/{quote_id}/answer", { path: { quote_id: quote.id }, seen: quote.revision }),
    onSettled: done,
  });
  // what the customer accepted on their own page stands
  const noted =
    (quote.state === "accepted" || quote.state === "declined") &&
    !quote.said.some((word) => word.kind === "accepted" && word.version === quote.version);
  const revise = useMutation({
    mutationFn: () =>
      post("/quotes/{quote_id}/revise", { path: { quote_id: quote.id }, seen: quote.revision }),
    onSettled: done,
  });
  const [link, setLink] = useState(false);
  const waiting = quote.state === "sent" || quote.state === "expired";
  return (
    <>
      {waiting && (
        <>
          <Tool name="Accepted" does={() => answer.mutate("accepted")} off={answer.isPending} />
          <Tool name="Declined" does={() => answer.mutate("declined")} off={answer.isPending} />
        </>
      )}
      {noted && <Tool name="Take answer back" does={() => back.mutate()} off={back.isPending} />}
      <SameAgain />
      <Tool name="Customer's page" does={() => setLink(true)} off={false} />
      {link && <CustomerLink quote={quote} onClose={() => setLink(false)} />}
      <Tool name="Revise" does={() => revise.mutate()} off={revise.isPending} />
    </>
  );
}

/** The same work once more, in another number if wanted. */
function SameAgain() {
  const { quote } = useBench();
  const navigate = useNavigate();
  const tell = useTell();
  const copy = useMutation({
    mutationFn: (pieces?: number) =>
      post("/quotes/{quote_id}/copy", { path: { quote_id: quote.id }, query: { pieces } }),
    onSuccess: (view) => {
      tell(`${view.number} is the same again.`, {
        label: "Undo",
        does: () =>
          void del("/quotes/{quote_id}", { path: { quote_id: view.id } }).then(() =>
            navigate(`/quotes/${quote.id}`),
          ),
      });
      void navigate(`/quotes/${view.id}`);
    },
  });
  const [again, setAgain] = useState<string | null>(null);
  const before = quote.estimate?.lines[0]?.quantity ?? 12;
  if (again === null)
    return <Tool name="Same again" does={() => setAgain(String(before))} off={copy.isPending} />;
  return (
    <form
      className="again"
      onSubmit={(e) => {
        e.preventDefault();
        const pieces = Number(again);
        copy.mutate(Number.isInteger(pieces) && pieces > 0 ? pieces : undefined);
      }}
    >
      <label htmlFor="again-pieces">Pieces</label>
      <input
        id="again-pieces"
        className="form-control"
        inputMode="numeric"
        autoFocus
        value={again}
        onFocus={(e) => e.target.select()}
        onChange={(e) => setAgain(e.target.value)}
        onKeyDown={(e) => e.key === "Escape" && setAgain(null)}
      />
      <button type="submit" className="btn btn-primary btn-sm" disabled={copy.isPending}>
        Again
      </button>
    </form>
  );
}
