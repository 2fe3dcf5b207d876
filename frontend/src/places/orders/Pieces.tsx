// An order's pieces and where each stands; those chosen are moved on, back, or spoiled.
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useId, useState } from "react";
import Form from "react-bootstrap/Form";
import {
  keys,
  post,
  useKeep,
  useRenew,
  type OrderView,
  type PieceRow,
  type PiecesChange,
} from "../../api";
import { Told } from "../../parts/Told";
import { counted } from "../../parts/format";
import { useTell } from "../../parts/toasts";
import { useFaults } from "../../parts/useFaults";
import { AllTheSame } from "./AllTheSame";
import { NameFix } from "./NameFix";
import { isAsked, useProblem } from "./useProblem";
import { PIECE_STATES, pieceWord } from "./words";
import style from "./Orders.module.scss";

const SHOWN = 12;

export function Pieces({ order }: { order: OrderView }) {
  const id = useId();
  const queries = useQueryClient();
  const renew = useRenew("order");
  const tell = useTell();
  const { faults, word } = useFaults();
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const [to, setTo] = useState<PieceRow["state"]>("sewn");
  const [reason, setReason] = useState("");
  const [all, setAll] = useState(false);
  const pieces = order.piece_list;
  const shown = all ? pieces : pieces.slice(0, SHOWN);
  const put = useKeep();
  const keep = async (view: OrderView) => {
    await put(keys.order(order.id), view);
    void renew();
  };
  const move = useMutation({
    mutationFn: (body: PiecesChange) =>
      post("/orders/{order_id}/pieces", { path: { order_id: order.id }, body }),
    onSuccess: keep,
    onError: () => void queries.invalidateQueries({ queryKey: keys.order(order.id) }),
  });
  const problem = useProblem(move.error, order.revision);
  const press = () => {
    const mine = pieces.filter((piece) => chosen.has(piece.id));
    const before = new Map<PieceRow["state"], string[]>();
    for (const piece of mine)
      before.set(piece.state, [...(before.get(piece.state) ?? []), piece.id]);
    move.mutate(
      {
        ids: mine.map((piece) => piece.id),
        seen: [...before.keys()],
        state: to as "sewn",
        reason: to === "spoiled" ? reason : "",
        anyway: false,
      },
      {
        onSuccess: () => {
          setChosen(new Set());
          tell(`${counted(mine.length, "piece")} ${pieceWord(to)}.`, {
            label: "Undo",
            does: () => {
              for (const [state, ids] of before)
                if (state !== "surplus" && state !== to)
                  move.mutate({ ids, seen: [to], state, reason: "", anyway: true });
            },
          });
        },
      },
    );
  };
  const counts = PIECE_STATES.filter(([state]) => order.pieces?.[state]);
  return (
    <section aria-label="Pieces">
      <h2 className="small-caps-head">Pieces</h2>
      <p role="status">
        {counts.map(([state, name]) => `${order.pieces?.[state] ?? 0} ${name}`).join(", ")}
      </p>
      <ul className={style["od-pieces"]}>
        {shown.map((piece) => (
          <li key={piece.id} data-state={piece.state}>
            <Form.Check
              id={`${id}-${piece.id}`}
              checked={chosen.has(piece.id)}
              disabled={piece.state === "surplus"}
              onChange={(e) => {
                const next = new Set(chosen);
                if (e.target.checked) next.add(piece.id);
                else next.delete(piece.id);
                setChosen(next);
              }}
              label={
                <>
                  <b>
                    {piece.name ||
                      [piece.size, piece.colour].filter(Boolean).join(" ") ||
                      piece.goods}
                  </b>{" "}
                  <span className="hint">
                    {piece.name && [piece.size, piece.colour].filter(Boolean).join(" ")}{" "}
                    {pieceWord(piece.state)}
                    {piece.reason && `: ${word(piece.reason)}`}
                    {piece.instead_of && ", in place of a spoiled one"}
                  </span>
                </>
              }
            />
            {piece.name && piece.state !== "surplus" && piece.state !== "spoiled" && (
              <NameFix order={order} piece={piece} onFixed={keep} />
            )}
          </li>
        ))}
      </ul>
      {pieces.length > SHOWN && (
        <button type="button" className="btn btn-plain" onClick={() => setAll(!all)}>
          {all ? "Fewer" : `All ${pieces.length}`}
        </button>
      )}
      <form
        className={style["od-note"]}
        onSubmit={(event) => {
          event.preventDefault();
          if (chosen.size > 0) press();
          else tell("Choose the pieces first.");
        }}
      >
        <button
          type="button"
          className="btn btn-plain"
          onClick={() =>
            setChosen(
              chosen.size > 0
                ? new Set()
                : new Set(pieces.filter((p) => p.state !== "surplus").map((p) => p.id)),
            )
          }
        >
          {chosen.size > 0 ? "Choose none" : "Choose all"}
        </button>
        <label htmlFor={`${id}-to`}>{counted(chosen.size, "chosen piece")} to</label>
        <Form.Select
          id={`${id}-to`}
          style={{ width: "auto" }}
          value={to}
          onChange={(e) => setTo(e.target.value as PieceRow["state"])}
        >
          {PIECE_STATES.filter(([state]) => state !== "surplus").map(([state, name]) => (
            <option key={state} value={state}>
              {name}
            </option>
          ))}
        </Form.Select>
        {to === "spoiled" && (
          <Form.Select
            aria-label="How it was spoiled"
            style={{ width: "auto" }}
            value={reason}
            onChange={(e) => setReason(e.target.value)}
          >
            <option value="">what was seen</option>
            {faults.map((fault) => (
              <option key={fault.id} value={fault.id}>
                {fault.short}
              </option>
            ))}
          </Form.Select>
        )}
        <button type="submit" className="btn btn-outline-primary btn-sm" disabled={move.isPending}>
          Move them
        </button>
      </form>
      <Told of={problem}>
        {isAsked(problem) && (
          <AllTheSame
            onPress={() => {
              if (move.variables) move.mutate({ ...move.variables, anyway: true });
            }}
          />
        )}
      </Told>
    </section>
  );
}
