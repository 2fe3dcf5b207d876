// A supplier's price list, pasted from a sheet: read first, shown, then kept.
import { useMutation } from "@tanstack/react-query";
import { useId, useState } from "react";
import { post, problemOf, useRenew } from "../../api";
import { Told } from "../../parts/Told";
import { useTell } from "../../parts/toasts";
import style from "./PriceList.module.scss";

const EXAMPLE = "Blank\tClass\tSupplier\tFrom\tEach\nHarbour polo\tPiqué polo\tSaltmarsh\t1\t6.40";

export function PriceList() {
  const id = useId();
  const renew = useRenew("standards");
  const tell = useTell();
  const [text, setText] = useState<string | null>(null);
  const read = useMutation({
    mutationFn: (list: string) => post("/price-lists", { body: { text: list, keep: false } }),
  });
  const keep = useMutation({
    mutationFn: (list: string) => post("/price-lists", { body: { text: list, keep: true } }),
    onSuccess: async (found) => {
      await renew();
      setText(null);
      read.reset();
      tell(`${found.blanks.length} ${found.blanks.length === 1 ? "blank is" : "blanks are"} kept.`);
    },
  });
  if (text === null)
    return (
      <button type="button" className="btn btn-plain" onClick={() => setText("")}>
        Paste a price list
      </button>
    );
  const wrong = read.error ?? keep.error;
  const problem = problemOf(wrong);
  const found = read.data;
  return (
    <section className={style["price-list"]} aria-label="Paste a price list">
      <label htmlFor={id} className="form-label">
        From a sheet or a mail: a line of headings, then a row for each price. Blank, Class and Each
        are needed; Supplier, From, Pack, Sizes, Colours, Dearer if they are there.
      </label>
      <textarea
        id={id}
        className={`form-control${problem ? " is-invalid" : ""}`}
        rows={6}
        autoFocus
        placeholder={EXAMPLE}
        value={text}
        onChange={(e) => {
          setText(e.target.value);
          read.reset();
          keep.reset();
        }}
      />
      <Told of={problem} placed />
      {found && (
        <div className="scrolls" tabIndex={0} role="group" aria-label="What the list holds">
          <table>
            <thead>
              <tr>
                <th scope="col">Blank</th>
                <th scope="col">From a number on, each</th>
                <th scope="col">What becomes of it</th>
              </tr>
            </thead>
            <tbody>
              {found.blanks.map((blank) => (
                <tr key={blank.line}>
                  <th scope="row">{blank.label}</th>
                  <td>{blank.prices}</td>
                  <td className="hint">
                    {blank.id === null
                      ? "new"
                      : blank.was === blank.prices
                        ? "as it is"
                        : `was ${blank.was}`}
                    {blank.new_supplier && `; ${blank.supplier} is a new supplier`}
                  </td>
                </tr>
              ))}
              {found.problems.map((row) => (
                <tr key={`p${row.line}`}>
                  <th scope="row">Line {row.line}</th>
                  <td colSpan={2}>
                    <strong>Not taken.</strong> {row.detail} {row.remedy}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      <div className="d-flex gap-2">
        {found && found.blanks.length > 0 ? (
          <button
            type="button"
            className="btn btn-primary"
            disabled={keep.isPending}
            onClick={() => keep.mutate(text)}
          >
            {`Keep ${found.blanks.length} ${found.blanks.length === 1 ? "blank" : "blanks"}`}
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
        <button type="button" className="btn btn-plain" onClick={() => setText(null)}>
          Leave it
        </button>
      </div>
    </section>
  );
}
