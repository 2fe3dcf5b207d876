// The working of a figure: formula, inputs with their sources, result.
import { useEffect, useRef } from "react";
import type { Working } from "../api/client";
import { number } from "./format";

interface Props {
  id: string;
  working: Working[] | null;
  onOpen: (id: string) => void;
  onClose: () => void;
}

const isNumber = (text: string) => /^-?\d+(\.\d+)?$/.test(text);
const shown = (text: string) => (isNumber(text) ? number(text, 4) : text);

export function WorkingSheet({ id, working, onOpen, onClose }: Props) {
  const head = useRef<HTMLHeadingElement>(null);
  useEffect(() => head.current?.focus(), [id]);
  const entry = working?.find((item) => item.id === id);
  return (
    <section
      className="working-sheet"
      aria-label="Working"
      onKeyDown={(e) => e.key === "Escape" && onClose()}
    >
      <div className="d-flex justify-content-between align-items-start gap-2">
        <h2 className="small-caps-head" ref={head} tabIndex={-1}>
          {entry?.name ?? "Working"}
        </h2>
        <button type="button" className="btn btn-outline-primary btn-sm" onClick={onClose}>
          Close
        </button>
      </div>
      {entry && (
        <>
          <p className="result mb-0">
            {shown(entry.value)} {entry.unit}
          </p>
          <p className="formula">{entry.formula}</p>
          <table>
            <tbody>
              {entry.inputs.map((input) => (
                <tr key={input.name}>
                  <th scope="row">{input.name}</th>
                  <td className="number">
                    {shown(input.value)} {input.unit}
                  </td>
                  <td className="hint">{input.source}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </>
      )}
      {working && (
        <label className="form-label d-block mt-3">
          Another figure
          <select className="form-select" value={id} onChange={(e) => onOpen(e.target.value)}>
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
