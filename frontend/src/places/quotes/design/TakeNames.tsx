// A list of who wants which size, pasted or dropped: it fills sizes, colours, pieces and names.
import { useMutation } from "@tanstack/react-query";
import { useId, useRef, useState } from "react";
import { post, problemOf, sheetText } from "../../../api";
import { hasNames, layNames, NAME_MARK, newId, setCells, useDraft } from "../../../draft";
import { Told } from "../../../parts/Told";
import { counted } from "../../../parts/format";
import { useTell } from "../../../parts/toasts";

const EXAMPLE = "Name\tSize\tColour\nAda\tM\tnavy\nBo\tS\tnavy";

export function TakeNames({ colours }: { colours: string[] }) {
  const id = useId();
  const tell = useTell();
  const { line, actions } = useDraft();
  const [text, setText] = useState<string | null>(null);
  const opener = useRef<HTMLButtonElement>(null);
  const close = () => {
    setText(null);
    take.reset();
    file.reset();
    window.requestAnimationFrame(() => opener.current?.focus());
  };
  const take = useMutation({
    mutationFn: (list: string) => post("/name-lists", { body: { text: list, colours } }),
    onSuccess: (found) => {
      const names = found.reduce((sum, cell) => sum + cell.names.length, 0);
      const pieces = found.reduce((sum, cell) => sum + cell.quantity, 0);
      const unlettered = names > 0 && !hasNames(line);
      actions.line("cells.list", (draft) => {
        delete draft.names;
        const plain = found.length === 1 && !found[0]?.size && !found[0]?.colour;
        if (plain) {
          delete draft.cells;
          draft.quantity = pieces;
        } else
          setCells(
            draft,
            found.map(({ size, colour, quantity }) => ({ id: newId(), size, colour, quantity })),
          );
        layNames(
          draft,
          found.map((cell) => cell.names),
        );
        delete draft.unit_price;
      });
      close();
      tell(
        `${counted(pieces, "piece")}${found.length > 1 ? ` in ${counted(found.length, "row")}` : ""}, ${counted(names, "name")}.` +
          (unlettered ? ` Add a place with the words ${NAME_MARK} to sew them.` : ""),
      );
    },
  });
  const file = useMutation({ mutationFn: sheetText, onSuccess: (found) => setText(found) });
  if (text === null)
    return (
      <button type="button" ref={opener} className="btn btn-plain ms-2" onClick={() => setText("")}>
        Paste a list
      </button>
    );
  const error = take.error ?? file.error;
  const problem = problemOf(error);
  return (
    <div
      className="mt-2"
      role="group"
      aria-label="A list of names and sizes"
      onKeyDown={(e) => e.key === "Escape" && close()}
    >
      <label htmlFor={id} className="form-label">
        A row for each piece or size: Name, Size, Colour, Pieces, with or without headings. It takes
        the place of the sizes and names that are here.
      </label>
      <textarea
        id={id}
        className={`form-control${problem ? " is-invalid" : ""}`}
        rows={5}
        autoFocus
        placeholder={EXAMPLE}
        value={text}
        aria-invalid={!!problem}
        aria-describedby={problem ? `${id}-wrong` : undefined}
        onChange={(e) => {
          setText(e.target.value);
          take.reset();
          file.reset();
        }}
        onDrop={(e) => {
          const [dropped] = e.dataTransfer.files;
          if (!dropped) return;
          e.preventDefault();
          e.stopPropagation();
          file.mutate(dropped);
        }}
      />
      <Told of={problem} id={`${id}-wrong`} placed />
      <div className="d-flex gap-2 align-items-center mt-1 flex-wrap">
        <button
          type="button"
          className="btn btn-primary btn-sm"
          disabled={take.isPending || !text.trim()}
          onClick={() => take.mutate(text)}
        >
          Take it
        </button>
        <label className="btn btn-sm btn-outline-primary mb-0">
          A file (.csv, .xlsx)
          <input
            type="file"
            className="visually-hidden"
            accept=".csv,.txt,.tsv,.xlsx"
            onChange={(e) => {
              const chosen = e.target.files?.[0];
              if (chosen) file.mutate(chosen);
              e.target.value = "";
            }}
          />
        </label>
        <button type="button" className="btn btn-plain" onClick={close}>
          Leave it
        </button>
      </div>
    </div>
  );
}
