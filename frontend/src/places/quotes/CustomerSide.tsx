// The customer's side, seen from the shop: the link to their page, and what they said on it.
import { useQuery } from "@tanstack/react-query";
import { useId } from "react";
import { api, type QuoteView } from "../../api/client";
import { Dialog } from "../../parts/Dialog";
import { day } from "../../parts/format";
import { useTell } from "../../parts/toasts";

export function CustomerLink({ quote, onClose }: { quote: QuoteView; onClose: () => void }) {
  const id = useId();
  const tell = useTell();
  const made = useQuery({
    queryKey: ["link", quote.id, quote.version],
    queryFn: () => api.makeLink(quote.id),
    gcTime: 0,
    staleTime: Infinity,
  });
  const url = made.data ? window.location.origin + made.data.path : "";
  return (
    <Dialog title="The customer's page" onClose={onClose}>
      <p>
        Whoever has this link reads {quote.number} as it was sent, accepts it, or asks for a change;
        they see no cost and no other quote. It holds until{" "}
        {quote.valid_until ? day(quote.valid_until) : "you make another"}, and links made before
        open nothing any more.
      </p>
      <label className="form-label" htmlFor={id}>
        The link, shown this once
      </label>
      <div className="d-flex gap-2">
        <input
          id={id}
          className="form-control"
          readOnly
          value={url}
          onFocus={(e) => e.target.select()}
        />
        <button
          type="button"
          className="btn btn-outline-primary"
          disabled={!url}
          onClick={() => {
            void navigator.clipboard.writeText(url).then(() => tell("The link is copied."));
          }}
        >
          Copy
        </button>
        <a className="btn btn-outline-primary" href={url} target="_blank" rel="noreferrer">
          Look
        </a>
      </div>
    </Dialog>
  );
}

export function Said({ said, onClose }: { said: QuoteView["said"]; onClose: () => void }) {
  return (
    <Dialog title="What the customer said" onClose={onClose}>
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
