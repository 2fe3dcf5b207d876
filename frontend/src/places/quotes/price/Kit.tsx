// Lines sold together at one price: a gift box, a set.
import { useId, useState } from "react";
import { useBench, useDraft } from "../../../draft";
import { goOnAt } from "../../../parts/goOnAt";

/** Greatest number of equal kits that the lines' pieces make up. */
function most(counts: number[]): number {
  const shared = (a: number, b: number): number => (b === 0 ? a : shared(b, a % b));
  return counts.reduce((a, b) => shared(a, b), counts[0] ?? 1);
}

const KIT = "[data-kit]";

export function Kit() {
  const id = useId();
  const [name, setName] = useState<string | null>(null);
  const { price } = useBench();
  const { job, actions } = useDraft();
  const kit = job.kits?.[0];
  if (kit)
    return (
      <>
        <span className="hint align-self-center">
          sold as {kit.quantity} × {kit.name}
        </span>
        <button
          type="button"
          className="btn btn-plain"
          data-kit
          onClick={() => {
            actions.job("kits", (found) => void (found.kits = []));
            goOnAt(KIT);
          }}
        >
          sell apart
        </button>
      </>
    );
  // how many there are of each line is what the price says of it
  const counts = price.estimate?.lines.map((line) => line.quantity) ?? [];
  if (job.lines.length < 2 || counts.length !== job.lines.length) return null;
  if (name === null)
    return (
      <button type="button" className="btn btn-plain" data-kit onClick={() => setName("Set")}>
        sell together
      </button>
    );
  const keep = () => {
    const lines = job.lines.map((line) => line.id);
    const set = { name: name.trim(), quantity: most(counts), lines };
    if (set.name) actions.job("kits", (found) => void (found.kits = [set]));
    setName(null);
    goOnAt(KIT);
  };
  return (
    <form
      className="again"
      onSubmit={(e) => {
        e.preventDefault();
        keep();
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
        onKeyDown={(e) => {
          if (e.key !== "Escape") return;
          setName(null);
          goOnAt(KIT);
        }}
      />
      <button type="submit" className="btn btn-outline-primary btn-sm">
        {most(counts)} of them
      </button>
    </form>
  );
}
