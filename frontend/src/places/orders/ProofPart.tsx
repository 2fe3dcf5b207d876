// The proof of an order: open, approved, or corrected; corrections are taken with their price.
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useId, useState } from "react";
import Form from "react-bootstrap/Form";
import { del, get, keys, post, put, useKeep, type OrderView } from "../../api";
import { Told } from "../../parts/Told";
import { day, money, signedMoney } from "../../parts/format";
import { useTell } from "../../parts/toasts";
import { useProblem } from "./useProblem";
import style from "./Orders.module.scss";

export function ProofPart({ order }: { order: OrderView }) {
  const id = useId();
  const queries = useQueryClient();
  const tell = useTell();
  const [by, setBy] = useState("");
  const { proof } = order;
  const keepNow = useKeep();
  const keep = async (view: OrderView) => {
    await keepNow(keys.order(order.id), view);
    void queries.invalidateQueries({ queryKey: keys.orders() });
  };
  const act = useMutation({
    mutationFn: (does: () => Promise<OrderView>) => does(),
    onSuccess: keep,
  });
  const problem = useProblem(act.error, order.revision);
  if (proof.state === "none") return null;
  const names = proof.lines.reduce(
    (sum, line) => sum + line.names.filter((each) => !each.approved).length + line.words.length,
    0,
  );
  return (
    <section aria-label="The proof">
      <h2 className="small-caps-head">The proof</h2>
      {proof.state === "open" && (
        <>
          <p className="mb-1">
            {names === 1 ? "One word or name is" : `${names} words and names are`} not approved yet:
            nothing of it is sewn until then. The customer approves it on their page.
          </p>
          <form
            className={style["od-note"]}
            onSubmit={(event) => {
              event.preventDefault();
              act.mutate(
                () =>
                  put("/orders/{order_id}/proof", { path: { order_id: order.id }, body: { by } }),
                {
                  onSuccess: () =>
                    tell("The proof is approved.", {
                      label: "Undo",
                      does: () =>
                        act.mutate(() =>
                          del("/orders/{order_id}/proof", { path: { order_id: order.id } }),
                        ),
                    }),
                },
              );
            }}
          >
            <label htmlFor={`${id}-by`}>They approved it</label>
            <Form.Control
              id={`${id}-by`}
              style={{ width: 180 }}
              placeholder="by telephone, by post"
              maxLength={200}
              value={by}
              onChange={(e) => setBy(e.target.value)}
            />
            <button type="submit" className="btn btn-outline-primary btn-sm">
              Tick it
            </button>
          </form>
        </>
      )}
      {proof.state === "approved" && (
        <p>
          Approved {day(proof.said_on)} by {proof.said_by}.{" "}
          <button
            type="button"
            className="btn btn-plain"
            onClick={() =>
              act.mutate(() => del("/orders/{order_id}/proof", { path: { order_id: order.id } }))
            }
          >
            Open it again
          </button>
        </p>
      )}
      {proof.state === "corrected" && (
        <Corrections
          order={order}
          busy={act.isPending}
          onTake={(price) =>
            act.mutate(() =>
              post("/orders/{order_id}/corrections", {
                path: { order_id: order.id },
                body: { price },
              }),
            )
          }
        />
      )}
      <Told of={problem} />
    </section>
  );
}

interface CorrectionsProps {
  order: OrderView;
  busy: boolean;
  onTake: (price: "agreed" | "new") => void;
}

function Corrections({ order, busy, onTake }: CorrectionsProps) {
  const { proof } = order;
  const found = useQuery({
    queryKey: keys.corrections(order.id, order.revision),
    queryFn: () => get("/orders/{order_id}/corrections", { path: { order_id: order.id } }),
    staleTime: 0,
  });
  const price = found.data;
  const rows = [...proof.names, ...proof.words];
  return (
    <>
      <p className="mb-1">
        {proof.said_by} corrected it {day(proof.said_on)}:
      </p>
      <ul>
        {rows.map((row, n) => (
          <li key={n}>
            “{row.was}” is to be “{row.to}”
          </li>
        ))}
        {proof.other && <li>{proof.other}</li>}
      </ul>
      {price && (
        <p className="mb-1">
          To pay {money(price.before, price.currency)}, with it {money(price.after, price.currency)}
          : {signedMoney(price.more, price.currency)}.
        </p>
      )}
      <div className={style["od-note"]}>
        <button
          type="button"
          className="btn btn-primary btn-sm"
          disabled={busy || !price}
          onClick={() => onTake("agreed")}
        >
          Take it, at the price as agreed
        </button>
        {price && Number(price.more) !== 0 && (
          <button
            type="button"
            className="btn btn-outline-primary btn-sm"
            disabled={busy}
            onClick={() => onTake("new")}
          >
            Send it at the new price, to be accepted
          </button>
        )}
      </div>
    </>
  );
}
