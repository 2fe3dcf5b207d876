// Lines sold together at one price: a gift box, a set.
import { useId, useState } from "react";
import type { DraftTools } from "./useDraft";

interface Kept {
  name: string;
  quantity: number;
  lines: number[];
}

/** Greatest number of equal kits that the lines' pieces make up. */
function most(counts: number[]): number {
  const shared = (a: number, b: number): number => (b === 0 ? a : shared(b, a % b));
  return counts.reduce((a, b) => shared(a, b), counts[0] ?? 1);
}

export function Kit({ tools }: { tools: DraftTools }) {
  const id = useId();
  const [name, setName] = useState<string | null>(null);
  const { draft } = tools;
  const kits = (draft.rest["kits"] ?? []) as Kept[];
  const kit = kits[0];
  const keep = (to: Kept[]) => tools.set({ ...draft, rest: { ...draft.rest, kits: to } });
  if (kit)
    return (
      <>
        <span className="hint align-self-center">
          sold as {kit.quantity} × {kit.name}
        </span>
        <button type="button" className="btn btn-plain" onClick={() => keep([])}>
          sell apart
        </button>
      </>
    );
  const counts = draft.lines.map((line) => Number(line.quantity));
  if (draft.lines.length < 2 || !counts.every((n) => Number.isInteger(n) && n > 0)) return null;
  if (name === null)
    return (
      <button type="button" className="btn btn-plain" onClick={() => setName("Set")}>
        sell together
      </button>
    );
  return (
    <form
      className="again"
      onSubmit={(e) => {
        e.preventDefault();
        if (name.trim())
          keep([{ name: name.trim(), quantity: most(counts), lines: counts.map((_, n) => n) }]);
        setName(null);
      }}
    >
      <label htmlFor={id}>as a</label>
      <input
        id={id}
        className="form-control"
        style={{ width: 120 }}
        autoFocus
        value={name}
        onChange={(e) => setName(e.target.value)}
        onKeyDown={(e) => e.key === "Escape" && setName(null)}
      />
      <button type="submit" className="btn btn-outline-primary btn-sm">
        {most(counts)} of them
      </button>
    </form>
  );
}
