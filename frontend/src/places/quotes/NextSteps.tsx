// What can be done with a quote that was sent: its answer, once more, its customer's page, revise.
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { api } from "../../api/client";
import { useBench } from "../../draft";
import { useTell } from "../../parts/toasts";
import { CustomerLink } from "./CustomerSide";
import { Tool } from "./Tool";

export function NextSteps({ reopen }: { reopen: () => void }) {
  const { quote } = useBench();
  const queries = useQueryClient();
  const tell = useTell();
  const done = () => {
    void queries.invalidateQueries({ queryKey: ["quotes"] });
    reopen();
  };
  const answer = useMutation({
    mutationFn: (said: "accepted" | "declined") => api.answerQuote(quote.id, quote.revision, said),
    onSuccess: (view) =>
      tell(`${view.number} is ${view.state}.`, {
        label: "Undo",
        does: () => void api.takeAnswerBack(view.id, view.revision).then(done, done),
      }),
    onSettled: done,
  });
  const back = useMutation({
    mutationFn: () => api.takeAnswerBack(quote.id, quote.revision),
    onSettled: done,
  });
  // what the customer accepted on their own page stands
  const noted =
    (quote.state === "accepted" || quote.state === "declined") &&
    !quote.said.some((word) => word.kind === "accepted" && word.version === quote.version);
  const revise = useMutation({
    mutationFn: () => api.reviseQuote(quote.id, quote.revision),
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
    mutationFn: (pieces?: number) => api.copyQuote(quote.id, pieces),
    onSuccess: (view) => {
      tell(`${view.number} is the same again.`, {
        label: "Undo",
        does: () => void api.deleteQuote(view.id).then(() => navigate(`/quotes/${quote.id}`)),
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
