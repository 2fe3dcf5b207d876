// The colours in sewing order, as wound thread cards; each may be given another thread.
import type { EstimateLine } from "../../api/client";
import { number } from "../../parts/format";
import { ThreadCard } from "../../parts/ThreadCard";
import { threadColours, withThreads } from "./place";
import type { DraftTools } from "./useDraft";

const UNDYED = "#8a8378";

interface Props {
  tools: DraftTools;
  design: EstimateLine["designs"][number];
}

export function Threads({ tools, design }: Props) {
  const { placement } = tools;
  const own = threadColours(placement);
  const assign = (at: number, colour: string) => {
    const list = Array.from({ length: Math.max(at + 1, own.length) }, (_, i) =>
      i === at ? colour : (own[i] ?? design.blocks[i]?.colour ?? UNDYED),
    );
    tools.setPlacement(withThreads(placement, list));
  };
  return (
    <section aria-label="Threads">
      <div className="sub-head">
        <h3>Colour order</h3>
        {own.length > 0 && (
          <button
            type="button"
            className="btn btn-plain"
            onClick={() => tools.setPlacement(withThreads(placement, []))}
          >
            the file's own
          </button>
        )}
      </div>
      <ol className="thread-cards" aria-label="Thread colours in sewing order">
        {design.blocks.map((block, i) => (
          <li key={i}>
            <label>
              <ThreadCard colour={block.colour} />
              <input
                type="color"
                className="visually-hidden"
                aria-label={`Thread ${i + 1}, ${block.colour_name}: choose another colour`}
                value={block.colour ?? UNDYED}
                onChange={(e) => assign(i, e.target.value)}
              />
              <span>
                <b>
                  {i + 1} {block.colour_name}
                </b>
                <br />
                {number(block.needle_m, 2, 2)} m, bobbin {number(block.bobbin_m, 2, 2)} m
              </span>
            </label>
          </li>
        ))}
      </ol>
    </section>
  );
}
