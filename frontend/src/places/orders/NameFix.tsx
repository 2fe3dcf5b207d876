// A wrong name is corrected at its piece: typed, kept, and that name alone is asked again.
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import Form from "react-bootstrap/Form";
import { post, type OrderView, type PieceRow } from "../../api";
import { Told } from "../../parts/Told";
import { useTell } from "../../parts/toasts";
import style from "./Orders.module.scss";

interface Props {
  order: OrderView;
  piece: PieceRow;
  onFixed: (view: OrderView) => Promise<void>;
}

export function NameFix({ order, piece, onFixed }: Props) {
  const tell = useTell();
  const [to, setTo] = useState<string | null>(null);
  const fix = useMutation({
    mutationFn: (name: string) =>
      post("/orders/{order_id}/names", {
        path: { order_id: order.id },
        body: { piece: piece.id, to: name },
      }),
    onSuccess: async (view) => {
      setTo(null);
      await onFixed(view);
      tell(`${piece.name} is now ${to ?? ""}: the customer is asked for it.`);
    },
  });
  if (to === null)
    return (
      <button
        type="button"
        className="btn btn-plain btn-sm"
        aria-label={`Correct the name ${piece.name}`}
        onClick={() => setTo(piece.name)}
      >
        correct
      </button>
    );
  return (
    <form
      className={style["od-name"]}
      onSubmit={(event) => {
        event.preventDefault();
        if (to.trim() && to.trim() !== piece.name) fix.mutate(to.trim());
        else setTo(null);
      }}
    >
      <Form.Control
        size="sm"
        autoFocus
        aria-label={`${piece.name} is to be`}
        maxLength={200}
        value={to}
        onChange={(e) => setTo(e.target.value)}
        onKeyDown={(e) => {
          if (e.key === "Escape") setTo(null);
        }}
      />
      <button type="submit" className="btn btn-outline-primary btn-sm" disabled={fix.isPending}>
        So it is
      </button>
      <Told of={fix.error} />
    </form>
  );
}
