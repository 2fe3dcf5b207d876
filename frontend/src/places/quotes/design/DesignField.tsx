// The design: a stitch file dropped or chosen, a count, or words.
import { useRef } from "react";
import { useBench, useOpenPlace, wayOf, type DraftDesign, type Way } from "../../../draft";
import { DesignCount } from "./DesignCount";
import { DesignFile } from "./DesignFile";
import { DesignOrigin } from "./DesignOrigin";
import { DesignWords } from "./DesignWords";

const WAYS: [Way, string][] = [
  ["file", "Stitch file"],
  ["count", "Count"],
  ["words", "Words"],
];
const BEGUN: Record<Way, DraftDesign> = {
  file: {},
  count: { stitches: "" },
  words: { text: "" },
};

export function DesignField() {
  const { upload } = useBench();
  const { placement, actions } = useOpenPlace();
  const { design } = placement;
  const way = wayOf(design);
  // what was typed another way is laid aside while this page is open
  const aside = useRef<Record<string, DraftDesign>>({});
  const take = (to: Way) => {
    if (to === way) return;
    aside.current[`${placement.id}.${way}`] = design;
    const { repeat, origin } = design;
    const next = aside.current[`${placement.id}.${to}`] ?? BEGUN[to];
    actions.placement("design.way", (found) => {
      found.design = { ...next, ...(repeat ? { repeat } : {}), ...(origin ? { origin } : {}) };
    });
  };
  return (
    <fieldset>
      <legend className="form-label">Design</legend>
      <div className="ways" role="group" aria-label="Where the design comes from">
        {WAYS.map(([key, name]) => (
          <button
            key={key}
            type="button"
            data-begin="design"
            className={`btn btn-sm ${way === key ? "btn-primary" : "btn-outline-primary"}`}
            aria-pressed={way === key}
            onClick={() => take(key)}
          >
            {name}
          </button>
        ))}
      </div>
      {way === "file" && <DesignFile />}
      {way === "count" && <DesignCount />}
      {way === "words" && <DesignWords />}
      {upload.error && (
        <div className="invalid-feedback d-block" role="alert">
          {upload.error}
        </div>
      )}
      <DesignOrigin />
    </fieldset>
  );
}
