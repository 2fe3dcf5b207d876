// Another row like one that is there: a shop's own machine, hoop, roll, blank …
import { useMutation } from "@tanstack/react-query";
import { useId, useState } from "react";
import { post, problemOf, useRenew } from "../../api";
import { Told } from "../../parts/Told";
import { useTell } from "../../parts/toasts";
import style from "./AddRow.module.scss";

interface Props {
  section: string;
  rows: [id: string, label: string][];
  button?: string;
}

export function AddRow({ section, rows, button = "+ one of your own" }: Props) {
  const id = useId();
  const renew = useRenew("standards");
  const tell = useTell();
  const [label, setLabel] = useState<string | null>(null);
  const [like, setLike] = useState(rows[0]?.[0] ?? "");
  const add = useMutation({
    mutationFn: (name: string) =>
      post("/standard-rows", { body: { section, like, label: name, values: {} } }),
    onSuccess: async () => {
      await renew();
      setLabel(null);
      tell(`${label ?? ""} is added: set what is different about it.`);
    },
  });
  const problem = problemOf(add.error);
  if (label === null)
    return (
      <button type="button" className="btn btn-plain" onClick={() => setLabel("")}>
        {button}
      </button>
    );
  return (
    <form
      className={style["add-row"]}
      onSubmit={(e) => {
        e.preventDefault();
        if (!add.isPending) add.mutate(label);
      }}
    >
      <label htmlFor={`${id}-name`}>Called</label>
      <input
        id={`${id}-name`}
        className="form-control"
        autoFocus
        maxLength={80}
        value={label}
        onChange={(e) => setLabel(e.target.value)}
        onKeyDown={(e) => e.key === "Escape" && setLabel(null)}
      />
      {rows.length > 0 && (
        <>
          <label htmlFor={`${id}-like`}>and otherwise like</label>
          <select
            id={`${id}-like`}
            className="form-select"
            value={like}
            onChange={(e) => setLike(e.target.value)}
          >
            {rows.map(([key, name]) => (
              <option key={key} value={key}>
                {name}
              </option>
            ))}
          </select>
        </>
      )}
      <button type="submit" className="btn btn-outline-primary btn-sm">
        Add
      </button>
      <Told of={problem} />
    </form>
  );
}
