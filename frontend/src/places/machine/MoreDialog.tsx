// What is pressed less often: who works, hands' time, pauses, notes, photos, weights, sound.
import { useMutation } from "@tanstack/react-query";
import { useId, useState } from "react";
import Form from "react-bootstrap/Form";
import { post, problemOf, type PassView, type RunEvent } from "../../api";
import { number } from "../../parts/format";
import { Dialog } from "../../parts/Dialog";
import { Told } from "../../parts/Told";
import style from "./Machine.module.scss";

interface Props {
  view: PassView;
  person: string;
  onPerson: (name: string) => void;
  sound: boolean;
  onSound: (on: boolean) => void;
  onMended: () => void;
  press: (kind: RunEvent["kind"], more?: Partial<RunEvent>) => void;
  onClose: () => void;
}

const PAUSES = ["break", "waiting for goods", "machine service", "end of the day"];

export function MoreDialog(props: Props) {
  const { view, press, onClose } = props;
  const id = useId();
  const [why, setWhy] = useState("");
  const [note, setNote] = useState("");
  const photo = useMutation({
    mutationFn: (file: File) =>
      post("/orders/{order_id}/photos", { path: { order_id: view.order_id }, file }),
    onSuccess: (kept) => press("photo", { photo: kept["photo"] ?? "" }),
  });
  const problem = problemOf(photo.error);
  return (
    <Dialog title="More" size="lg" onClose={onClose}>
      <div className={style["mc-more"]}>
        <section aria-label="Time of hands">
          <h3 className="small-caps-head">Time of hands</h3>
          <p className={style["mc-buttons"]}>
            <button
              type="button"
              className="btn btn-outline-primary"
              aria-pressed={view.preparing}
              onClick={() => press(view.preparing ? "prepared" : "prepare")}
            >
              {view.preparing ? "Preparing ends" : "Preparing begins"}
            </button>
            <button
              type="button"
              className="btn btn-outline-primary"
              aria-pressed={view.finishing}
              onClick={() => press(view.finishing ? "finished" : "finish")}
            >
              {view.finishing ? "Finishing ends" : "Finishing begins"}
            </button>
          </p>
          <p className="hint">
            Marking, cutting, hooping; then clipping, removing, pressing, packing. So far{" "}
            {number((view.prepare_s ?? 0) / 60, 1)} and {number((view.finish_s ?? 0) / 60, 1)} min.
          </p>
        </section>
        <section aria-label="Pieces">
          <h3 className="small-caps-head">Pieces</h3>
          <button type="button" className="btn btn-outline-primary" onClick={props.onMended}>
            A piece is mended
          </button>
        </section>
        <section aria-label="Pause">
          <h3 className="small-caps-head">Pause</h3>
          <form
            className={style["mc-row"]}
            onSubmit={(event) => {
              event.preventDefault();
              press("paused", { reason: why });
              onClose();
            }}
          >
            <Form.Control
              aria-label="Why"
              list={`${id}-why`}
              placeholder="why"
              value={why}
              maxLength={200}
              onChange={(e) => setWhy(e.target.value)}
            />
            <datalist id={`${id}-why`}>
              {PAUSES.map((each) => (
                <option key={each} value={each} />
              ))}
            </datalist>
            <button type="submit" className="btn btn-outline-primary">
              Pause
            </button>
          </form>
        </section>
        <section aria-label="Note">
          <h3 className="small-caps-head">Note</h3>
          <form
            className={style["mc-row"]}
            onSubmit={(event) => {
              event.preventDefault();
              if (note.trim()) press("note", { text: note.trim() });
              setNote("");
            }}
          >
            <Form.Control
              aria-label="Note"
              value={note}
              maxLength={1000}
              onChange={(e) => setNote(e.target.value)}
            />
            <button type="submit" className="btn btn-outline-primary">
              Keep
            </button>
          </form>
          {view.notes.map((words, n) => (
            <p key={n} className="hint mb-0">
              {words}
            </p>
          ))}
          <Form.Label htmlFor={`${id}-f`} className="mt-2">
            Photo
          </Form.Label>
          <Form.Control
            id={`${id}-f`}
            type="file"
            accept="image/jpeg,image/png,image/webp"
            onChange={(e) => {
              const file = (e.target as HTMLInputElement).files?.[0];
              if (file) photo.mutate(file);
            }}
          />
          <Told of={problem} />
          {view.photos.map((sha256) => (
            <img
              key={sha256}
              className={style["mc-photo"]}
              src={`/api/v1/photos/${sha256}.jpg`}
              alt="From this pass"
            />
          ))}
        </section>
        <section aria-label="Cones by weight">
          <h3 className="small-caps-head">Cones by weight</h3>
          {view.weights.map((row) => (
            <Cone key={row.label} row={row} scale={view.scale_address} press={press} />
          ))}
        </section>
        <section aria-label="At this tablet">
          <h3 className="small-caps-head">At this tablet</h3>
          <Form.Label htmlFor={`${id}-who`}>Who works</Form.Label>
          <Form.Select
            id={`${id}-who`}
            value={props.person}
            onChange={(e) => props.onPerson(e.target.value)}
          >
            <option value="">not said</option>
            {view.people.map((name) => (
              <option key={name} value={name}>
                {name}
              </option>
            ))}
          </Form.Select>
          <Form.Check
            id={`${id}-sound`}
            className="mt-2"
            label="A tone where the machine stops"
            checked={props.sound}
            onChange={(e) => props.onSound(e.target.checked)}
          />
        </section>
      </div>
    </Dialog>
  );
}

interface ConeProps {
  row: PassView["weights"][number];
  scale: boolean;
  press: Props["press"];
}

/** A thread's cone before the pass and after it: read from the scale, or typed. */
function Cone({ row, scale, press }: ConeProps) {
  const weigh = useMutation({
    mutationFn: async (after: boolean) => ({
      after,
      shown: await post("/scale/weigh", { body: { needle: row.needle } }),
    }),
    onSuccess: ({ after, shown }) =>
      press("weighed", { label: row.label, grams: shown.grams, after }),
  });
  const problem = problemOf(weigh.error);
  const side = (after: boolean) => {
    const grams = after ? row.after_g : row.before_g;
    const name = `${row.label}, ${after ? "after" : "before"}`;
    return (
      <span className={style["mc-weigh"]}>
        <Form.Control
          key={grams ?? ""}
          aria-label={`${name}, grams`}
          inputMode="decimal"
          placeholder={after ? "after, g" : "before, g"}
          defaultValue={grams === null ? "" : String(grams)}
          onBlur={(e) => {
            const typed = Number(e.target.value.replace(",", "."));
            if (e.target.value.trim() && Number.isFinite(typed) && typed >= 0 && typed !== grams)
              press("weighed", { label: row.label, grams: typed, after });
          }}
        />
        {scale && (
          <button
            type="button"
            className="btn btn-plain"
            aria-label={`Weigh ${name}`}
            disabled={weigh.isPending}
            onClick={() => weigh.mutate(after)}
          >
            Weigh
          </button>
        )}
      </span>
    );
  };
  return (
    <div className={style["mc-cone"]}>
      <span>
        {row.needle !== null && <b>{row.needle} </b>}
        {row.label}
      </span>
      {side(false)}
      {side(true)}
      <Told of={problem} />
    </div>
  );
}
