// A list of customers from elsewhere: dropped or pasted, looked at, then kept.
import { useMutation } from "@tanstack/react-query";
import { useId, useState } from "react";
import { post, problemOf, sheetText, useRenew } from "../../api";
import { Told } from "../../parts/Told";
import { counted } from "../../parts/format";
import { useTell } from "../../parts/toasts";
import style from "./Customers.module.scss";

const EXAMPLE = "Name\tContact\tE-mail\tPhone\nTern Street Bakers\tIo\tbread@tern.example\t";

export function TakeList({ onClose }: { onClose: () => void }) {
  const id = useId();
  const renew = useRenew("customers");
  const tell = useTell();
  const [text, setText] = useState("");
  const file = useMutation({ mutationFn: sheetText, onSuccess: (found) => setText(found) });
  const read = useMutation({
    mutationFn: (list: string) => post("/customer-lists", { body: { text: list, keep: false } }),
  });
  const keep = useMutation({
    mutationFn: (list: string) => post("/customer-lists", { body: { text: list, keep: true } }),
    onSuccess: (found) => {
      tell(`${counted(found.new, "customer")} new, ${found.filled} filled in.`);
      void renew();
      onClose();
    },
  });
  const error = file.error ?? read.error ?? keep.error;
  const problem = problemOf(error);
  const found = read.data;
  const change = (to: string) => {
    setText(to);
    read.reset();
    keep.reset();
    file.reset();
  };
  const taken = found ? found.new + found.filled : 0;
  return (
    <section className={style["cu-take"]} aria-label="Take over a list">
      <label htmlFor={id} className="form-label">
        From a sheet: a line of headings, then a row for each. Name is needed; Contact, E-mail,
        Phone, Address, Notes, Keep until if they are there. Who is here already is only filled in.
      </label>
      <textarea
        id={id}
        className={`form-control${problem ? " is-invalid" : ""}`}
        rows={5}
        autoFocus
        placeholder={EXAMPLE}
        value={text}
        aria-invalid={!!problem}
        onChange={(e) => change(e.target.value)}
      />
      <Told of={problem} placed />
      {found && (
        <div className="scrolls" tabIndex={0} role="group" aria-label="What the list holds">
          <table>
            <thead>
              <tr>
                <th scope="col">Line</th>
                <th scope="col">Name</th>
                <th scope="col">What becomes of it</th>
              </tr>
            </thead>
            <tbody>
              {found.rows.map((row) => (
                <tr key={row.line}>
                  <td>{row.line}</td>
                  <th scope="row">{row.name}</th>
                  <td className={row.does === "wrong" ? "" : "hint"}>
                    {row.does === "wrong" && <strong>Not taken. </strong>}
                    {row.does === "same" ? "as it is" : row.does === "wrong" ? "" : row.does}
                    {row.told && ` ${row.told}`}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      <div className="d-flex gap-2 align-items-center flex-wrap">
        {found && taken > 0 ? (
          <button
            type="button"
            className="btn btn-primary"
            disabled={keep.isPending}
            onClick={() => keep.mutate(text)}
          >
            {`Keep ${counted(taken, "customer")}`}
          </button>
        ) : (
          <button
            type="button"
            className="btn btn-primary"
            disabled={read.isPending || !text.trim()}
            onClick={() => read.mutate(text)}
          >
            Read it
          </button>
        )}
        <label className="btn btn-outline-primary mb-0">
          A file (.csv, .xlsx)
          <input
            type="file"
            className="visually-hidden"
            accept=".csv,.txt,.tsv,.xlsx"
            onChange={(e) => {
              const chosen = e.target.files?.[0];
              if (chosen) {
                change("");
                file.mutate(chosen);
              }
              e.target.value = "";
            }}
          />
        </label>
        <button type="button" className="btn btn-plain" onClick={onClose}>
          Leave it
        </button>
      </div>
    </section>
  );
}
