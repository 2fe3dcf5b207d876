// Sending: for whom, and what it comes to.
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useId } from "react";
import { api, ProblemError } from "../../api/client";
import { useBench, useHead, useJob, useSaved } from "../../draft";
import { Dialog } from "../../parts/Dialog";
import { money } from "../../parts/format";

interface Props {
  toPay: string;
  onClose: () => void;
  reopen: () => void;
}

export function SendDialog({ toPay, onClose, reopen }: Props) {
  const queries = useQueryClient();
  const { quote, actions } = useBench();
  const saving = useSaved();
  const head = useHead();
  const { currency } = useJob();
  const id = useId();
  const send = useMutation({
    mutationFn: async () => api.sendQuote(quote.id, await saving.flush()),
    onSuccess: () => {
      void queries.invalidateQueries({ queryKey: ["quotes"] });
      onClose();
      reopen();
    },
  });
  const problem = send.error instanceof ProblemError ? send.error.problem : null;
  const footer = (
    <>
      <button type="button" className="btn btn-outline-primary" onClick={onClose}>
        Not yet
      </button>
      <button
        type="button"
        className="btn btn-primary"
        disabled={send.isPending}
        onClick={() => send.mutate()}
      >
        Send it
      </button>
    </>
  );
  return (
    <Dialog title={`Send ${quote.number} v${quote.version + 1}`} footer={footer} onClose={onClose}>
      <div className="ask-fields">
        <p className="mb-0">
          {money(toPay, currency ?? "GBP")} to pay. This version is frozen with its figures and
          papers; it can be revised, which makes the next one.
        </p>
        {(["customer", "email"] as const).map((key) => (
          <div key={key}>
            <label className="form-label" htmlFor={`${id}-${key}`}>
              {key === "customer" ? "For" : "E-mail (the post is simulated: see the outbox)"}
            </label>
            <input
              id={`${id}-${key}`}
              className="form-control"
              value={head[key]}
              onChange={(e) => actions.head({ [key]: e.target.value })}
            />
          </div>
        ))}
        {problem && (
          <div className="invalid-feedback d-block" role="alert">
            {problem.detail} {problem.remedy}
          </div>
        )}
      </div>
    </Dialog>
  );
}
