// The working of a figure: formula, inputs with their sources, result. What was worked out opens
// its own working in turn, down to facts and standards, with the way back.
import { useEffect, useRef } from "react";
import { Link } from "react-router";
import { type Working } from "../api";
import style from "./WorkingSheet.module.scss";

interface Props {
  /** The workings that were opened, one out of the other; the last is shown. */
  path: string[];
  working: Working[] | null;
  onPath: (path: string[]) => void;
}

type Input = Working["inputs"][number];

export function WorkingSheet({ path, working, onPath }: Props) {
  const id = path[path.length - 1] ?? "";
  const head = useRef<HTMLHeadingElement>(null);
  useEffect(() => head.current?.focus(), [id]);
  const of = (key: string) => working?.find((item) => item.id === key);
  const entry = of(id);
  const before = of(path[path.length - 2] ?? "");
  const close = () => onPath([]);
  return (
    <section
      className={style["working-sheet"]}
      aria-label="Working"
      onKeyDown={(e) => e.key === "Escape" && close()}
    >
      <div className="d-flex justify-content-between align-items-start gap-2">
        <h2 className="small-caps-head" ref={head} tabIndex={-1}>
          {entry?.name ?? "Working"}
        </h2>
        <button type="button" className="btn btn-outline-primary btn-sm" onClick={close}>
          Close
        </button>
      </div>
      {before && (
        <button
          type="button"
          className="btn btn-plain back-to"
          onClick={() => onPath(path.slice(0, -1))}
        >
          Back to {before.name.charAt(0).toLowerCase() + before.name.slice(1)}
        </button>
      )}
      {entry && <Entry entry={entry} onOpen={(next) => onPath([...path, next])} />}
      {working && (
        <label className="form-label d-block mt-3">
          Another figure
          <select
            className="form-select"
            value={id}
            onChange={(e) => onPath([...path, e.target.value])}
          >
            {!entry && <option value={id}>Choose</option>}
            {working.map((item) => (
              <option key={item.id} value={item.id}>
                {item.name}
              </option>
            ))}
          </select>
        </label>
      )}
    </section>
  );
}

function Entry({ entry, onOpen }: { entry: Working; onOpen: (id: string) => void }) {
  return (
    <>
      <p className={`${style["result"]} mb-0`} title={`${entry.value} ${entry.unit}`}>
        {entry.text || `${entry.value} ${entry.unit}`}
      </p>
      <p className={style["formula"]}>{entry.formula}</p>
      <table>
        <tbody>
          {entry.inputs.map((input, n) => (
            <tr key={n}>
              <th scope="row">{input.name}</th>
              <td className={style["number"]} title={`${input.value} ${input.unit}`}>
                <Value input={input} onOpen={onOpen} />
              </td>
              <td className="hint">
                <Source input={input} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}

/** A figure; what was worked out opens its working. */
function Value({ input, onOpen }: { input: Input; onOpen: (id: string) => void }) {
  const said = input.text || `${input.value} ${input.unit}`;
  if (!input.of) return said;
  return (
    <button type="button" className="btn btn-plain" onClick={() => onOpen(input.of)}>
      {said}
    </button>
  );
}

/** Where a figure came from; a standard leads to its place. */
function Source({ input }: { input: Input }) {
  if (!input.standard) return input.source;
  return <Link to={`/workshop/standards?search=${input.standard}`}>{input.source}</Link>;
}
