// Trouble by what is seen: cautions before remedies, the likeliest cause for this piece first; and
// how a piece was spoiled or mended.
import { useMutation } from "@tanstack/react-query";
import { useId, useState } from "react";
import Form from "react-bootstrap/Form";
import { post, problemOf, type PassPiece, type PassView } from "../../api";
import { Dialog } from "../../parts/Dialog";
import { Told } from "../../parts/Told";
import { useFaults } from "../../parts/useFaults";
import style from "./Machine.module.scss";

interface TroubleProps {
  view: PassView;
  onClose: () => void;
  onSpoiled: (reason: string) => void;
}

export function TroubleDialog({ view, onClose, onSpoiled }: TroubleProps) {
  const [seen, setSeen] = useState("");
  const here = view.troubles.find((each) => each.id === seen);
  return (
    <Dialog title={here ? here.seen : "Trouble: what is seen?"} size="lg" onClose={onClose}>
      {!here && (
        <ul className={style["mc-seen"]}>
          {view.troubles.map((each) => (
            <li key={each.id}>
              <button
                type="button"
                className="btn btn-outline-primary"
                onClick={() => setSeen(each.id)}
              >
                {each.seen}
              </button>
            </li>
          ))}
        </ul>
      )}
      {here && (
        <>
          {here.caution && <p className={style["mc-care"]}>{here.caution}</p>}
          <h3 className="small-caps-head">Look at, in this order</h3>
          <ol>
            {here.causes.map((words, n) => (
              <li key={words}>
                {n < here.likely ? <b>{words}</b> : words}
                {n < here.likely && <span className="hint"> likelier with this piece</span>}
              </li>
            ))}
          </ol>
          <h3 className="small-caps-head">Now</h3>
          <p>{here.now}</p>
          <h3 className="small-caps-head">Next time</h3>
          <p>{here.next}</p>
          <p className={style["mc-buttons"]}>
            <button
              type="button"
              className="btn btn-outline-primary"
              onClick={() => onSpoiled(here.id)}
            >
              The piece is spoiled by it
            </button>
            <button type="button" className="btn btn-plain" onClick={() => setSeen("")}>
              Something else is seen
            </button>
          </p>
        </>
      )}
    </Dialog>
  );
}

interface SpoiledProps {
  order: number;
  mended: boolean;
  pieces: PassPiece[];
  onClose: () => void;
  onDone: (piece: string, reason: string, photo: string) => void;
}

export function SpoiledDialog({ order, mended, pieces, onClose, onDone }: SpoiledProps) {
  const id = useId();
  const { faults } = useFaults();
  const [piece, setPiece] = useState(pieces[0]?.id ?? "");
  const [reason, setReason] = useState("");
  const [photo, setPhoto] = useState("");
  const send = useMutation({
    mutationFn: (file: File) =>
      post("/orders/{order_id}/photos", { path: { order_id: order }, file }),
    onSuccess: (kept) => setPhoto(kept["photo"] ?? ""),
  });
  const problem = problemOf(send.error);
  return (
    <Dialog title={mended ? "Mended" : "Spoiled"} onClose={onClose}>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          if (piece && reason) onDone(piece, reason, photo);
        }}
      >
        <Form.Label htmlFor={`${id}-p`}>Piece</Form.Label>
        <Form.Select id={`${id}-p`} value={piece} onChange={(e) => setPiece(e.target.value)}>
          {pieces.map((each) => (
            <option key={each.id} value={each.id}>
              {each.n}: {[each.name, each.size, each.colour].filter(Boolean).join(" ") || "plain"}
            </option>
          ))}
        </Form.Select>
        <Form.Label htmlFor={`${id}-r`} className="mt-2">
          What was seen
        </Form.Label>
        <Form.Select
          id={`${id}-r`}
          value={reason}
          required
          onChange={(e) => setReason(e.target.value)}
        >
          <option value="">choose</option>
          {faults.map((fault) => (
            <option key={fault.id} value={fault.id}>
              {fault.short}
            </option>
          ))}
        </Form.Select>
        <Form.Label htmlFor={`${id}-f`} className="mt-2">
          Photo, if wanted
        </Form.Label>
        <Form.Control
          id={`${id}-f`}
          type="file"
          accept="image/jpeg,image/png,image/webp"
          onChange={(e) => {
            const file = (e.target as HTMLInputElement).files?.[0];
            if (file) send.mutate(file);
          }}
        />
        {photo && <p className="hint">The photo is kept, without what the camera noted in it.</p>}
        <Told of={problem} />
        <button type="submit" className="btn btn-primary mt-3" disabled={send.isPending}>
          {mended ? "It is mended" : "It is spoiled"}
        </button>
      </form>
    </Dialog>
  );
}
