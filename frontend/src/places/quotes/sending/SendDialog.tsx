// Sending: for whom, and what it comes to.
import { Asks } from "../../../parts/Asks";
import { useMutation } from "@tanstack/react-query";
import { useId, useRef, useState } from "react";
import { problemOf, sendQuote, useRenew, type SendStep } from "../../../api";
import { useBench, useHead, useJob, useSaved } from "../../../draft";
import { Dialog } from "../../../parts/Dialog";
import { Told } from "../../../parts/Told";
import { CustomerInput } from "../CustomerField";
import { BeforeSending, useBeforeSending } from "./BeforeSending";
import { money } from "../../../parts/format";

interface Props {
  toPay: string;
  onClose: () => void;
  reopen: () => void;
}

export function SendDialog({ toPay, onClose, reopen }: Props) {
  const renew = useRenew("quotes");
  const { quote, actions } = useBench();
  const saving = useSaved();
  const head = useHead();
  const { currency } = useJob();
  const id = useId();
  const [step, setStep] = useState<SendStep | null>(null);
  const [stop, setStop] = useState<AbortController | null>(null);
  const send = useMutation({
    mutationFn: async () => {
      const stopping = new AbortController();
      setStop(stopping);
      setStep(null);
      return sendQuote(quote.id, await saving.flush(), setStep, stopping.signal);
    },
    onSuccess: () => {
      void renew();
      onClose();
      reopen();
    },
  });
  const before = useBeforeSending();
  const stopped = !before.isFetching && before.data?.ready === false;
  const problem = problemOf(send.error);
  /** While it is going, every way out stops it: it never goes on unseen. */
  const leave = () => (send.isPending ? stop?.abort() : onClose());
  /** A stop that was just mended is looked at once more: what is kept decides, not what was shown. */
  const pressed = useRef(false);
  const press = async () => {
    if (send.isPending || pressed.current) return;
    pressed.current = true;
    try {
      if (!stopped || (await before.now()).ready) send.mutate();
    } finally {
      pressed.current = false;
    }
  };
  const footer = (
    <>
      <button type="button" className="btn btn-outline-primary" onClick={leave}>
        {send.isPending ? "Stop" : "Not yet"}
      </button>
      <button
        type="button"
        className="btn btn-primary"
        aria-disabled={send.isPending || stopped}
        aria-describedby={stopped ? `${id}-stopped` : undefined}
        onClick={() => void press()}
      >
        Send it
      </button>
    </>
  );
  return (
    <Dialog title={`Send ${quote.number} v${quote.version + 1}`} footer={footer} onClose={leave}>
      <div className="ask-fields">
        <p className="mb-0">
          {money(toPay, currency ?? "GBP")} to pay. This version is frozen with its figures and
          papers; it can be revised, which makes the next one.
        </p>
        <div>
          <label className="form-label" htmlFor={`${id}-customer`}>
            For
          </label>
          <CustomerInput id={`${id}-customer`} autoFocus={!head.customer} />
        </div>
        <div>
          <label className="form-label" htmlFor={`${id}-email`}>
            E-mail (the post is simulated: see the outbox)
          </label>
          <input
            id={`${id}-email`}
            className="form-control"
            value={head.email}
            onChange={(e) => actions.head({ email: e.target.value })}
          />
        </div>
        {quote.version > 0 && <Asks quote={quote.id} />}
        <BeforeSending found={before} />
        <p id={`${id}-stopped`} className="mb-0" role="status" style={{ minHeight: 24 }}>
          {stopped && "It cannot go out while a stop stands."}
        </p>
        {send.isPending && step && (
          <div>
            <progress
              className="w-100"
              value={step.done}
              max={step.of}
              aria-label="How far the sending is"
            />
            <span className="hint" role="status">
              {step.next === "pricing" ? "Pricing it" : "Making its papers"}
            </span>
          </div>
        )}
        {stop?.signal.aborted && !send.isPending && (
          <p className="mb-0" role="status">
            Stopped. Nothing was sent.
          </p>
        )}
        <Told of={problem} />
      </div>
    </Dialog>
  );
}
