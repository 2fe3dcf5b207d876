// The customer's side, seen from the shop: the link to their page, and what they said on it.
import { Asks } from "../../../parts/Asks";
import { useMutation } from "@tanstack/react-query";
import { useId } from "react";
import { del, post, problemOf, type QuoteView } from "../../../api";
import { Dialog } from "../../../parts/Dialog";
import { wordsOf } from "../../../parts/Told";
import { day } from "../../../parts/format";
import { useTell } from "../../../parts/toasts";

export function CustomerLink({ quote, onClose }: { quote: QuoteView; onClose: () => void }) {
  const id = useId();
  const tell = useTell();
  const back = async () => {
    try {
      await del("/quotes/{quote_id}/link", { path: { quote_id: quote.id } });
      made.reset();
      tell("The link before opens their page again.");
    } catch (error) {
      const problem = problemOf(error);
      if (problem) tell(wordsOf(problem));
    }
  };
  const made = useMutation({
    mutationFn: () => post("/quotes/{quote_id}/link", { path: { quote_id: quote.id } }),
    onSuccess: () =>
      tell("The link before this one opens nothing now.", {
        label: "Undo",
        does: () => void back(),
      }),
  });
  const url = made.data?.url ?? "";
  return (
    <Dialog title="The customer's page" onClose={onClose}>
      <p>
        <a href={`/preview/${quote.id}`} target="_blank" rel="noreferrer">
          Look at it
        </a>{" "}
        as they do: that uses no link.
      </p>
      <p>
        Whoever has its link reads {quote.number} as it was sent, accepts it, or asks for a change;
        they see no cost and no other quote. A link is kept as its mark only, so that it cannot be
        shown again; a new one holds until{" "}
        {quote.valid_until ? day(quote.valid_until) : "you make another"}, and the one before opens
        nothing any more.
      </p>
      {url ? (
        <>
          <label className="form-label" htmlFor={id}>
            The new link, shown this once
          </label>
          <div className="d-flex gap-2">
            <input
              id={id}
              className="form-control"
              readOnly
              autoFocus
              value={url}
              onFocus={(e) => e.target.select()}
            />
            <button
              type="button"
              className="btn btn-outline-primary"
              onClick={() => {
                void navigator.clipboard.writeText(url).then(() => tell("The link is copied."));
              }}
            >
              Copy
            </button>
            <a className="btn btn-outline-primary" href={url} target="_blank" rel="noreferrer">
              Open
            </a>
          </div>
        </>
      ) : (
        <button
          type="button"
          className="btn btn-outline-primary"
          disabled={made.isPending}
          onClick={() => made.mutate()}
        >
          Make a new link
        </button>
      )}
    </Dialog>
  );
}

interface SaidProps {
  quote: number;
  said: QuoteView["said"];
  onClose: () => void;
}

export function Said({ quote, said, onClose }: SaidProps) {
  return (
    <Dialog title="What the customer said" onClose={onClose}>
      <Asks quote={quote} />
      {said.map((word, n) => (
        <p key={n}>
          <strong>
            {day(word.said_on)}, {word.name}, of v{word.version}:
          </strong>{" "}
          {word.kind === "accepted" ? "accepted, with typed consent." : "asks for a change."}{" "}
          {word.words}
        </p>
      ))}
    </Dialog>
  );
}
