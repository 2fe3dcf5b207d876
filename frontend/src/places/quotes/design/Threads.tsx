// The colours in sewing order, as wound thread cards; each is given a thread of the shelf, or any.
import { useRef } from "react";
import { type EstimateLine } from "../../../api";
import { useOpenPlace, useHouse } from "../../../draft";
import { ThreadCard } from "../../../parts/ThreadCard";
import { longText } from "../../../parts/units";
import { useUnits } from "../../../parts/useUnits";
import { threadColours } from "../place";
import style from "./Threads.module.scss";

const UNDYED = "#8a8378";

interface Props {
  design: EstimateLine["designs"][number];
}

export function Threads({ design }: Props) {
  const house = useHouse();
  const { placement, actions } = useOpenPlace();
  const { units } = useUnits();
  const own = threadColours(placement);
  const shelf = Object.entries(house.thread_shelf).filter(([, thread]) => thread.owned);
  const keep = (place: string, colours: string[]) =>
    actions.placement(`design.thread_colours${place}`, ({ design: found }) => {
      if (colours.length > 0) found.thread_colours = colours;
      else delete found.thread_colours;
    });
  const assign = (at: number, colour: string) =>
    keep(
      `[${at}]`,
      Array.from({ length: Math.max(at + 1, own.length) }, (_, i) =>
        i === at ? colour : (own[i] ?? design.blocks[i]?.colour ?? UNDYED),
      ),
    );
  return (
    <section aria-label="Threads">
      <div className="sub-head">
        <h3>Colour order</h3>
        {own.length > 0 && (
          <button type="button" className="btn btn-plain" onClick={() => keep("", [])}>
            the file's own
          </button>
        )}
      </div>
      <ol className={style["thread-cards"]} aria-label="Thread colours in sewing order">
        {design.blocks.map((block, i) => {
          const kept = shelf.find(([, row]) => row.colour === block.colour)?.[1].label;
          const name = kept ?? block.colour_name;
          return (
            <li key={i}>
              <Card
                number={i + 1}
                name={name}
                colour={block.colour}
                onShelf={kept !== undefined}
                metres={`${longText(block.needle_m, units)}, bobbin ${longText(block.bobbin_m, units)}`}
                shelf={shelf.map(([id, row]) => ({ id, ...row }))}
                onChoose={(colour) => assign(i, colour)}
              />
            </li>
          );
        })}
      </ol>
    </section>
  );
}

interface CardProps {
  number: number;
  name: string;
  colour: string | null;
  onShelf: boolean;
  metres: string;
  shelf: { id: string; label: string; colour: string }[];
  onChoose: (colour: string) => void;
}

function Card({ number: at, name, colour, onShelf, metres, shelf, onChoose }: CardProps) {
  const box = useRef<HTMLDetailsElement>(null);
  const close = () => {
    if (!box.current) return;
    box.current.open = false;
    box.current.querySelector("summary")?.focus();
  };
  return (
    <details ref={box} onKeyDown={(e) => e.key === "Escape" && close()}>
      <summary>
        <ThreadCard colour={colour} />
        <span>
          <b>
            {at} {name}
          </b>
          {onShelf && <span className="hint"> on the shelf</span>}
          <br />
          {metres}
        </span>
      </summary>
      <div className={style["shelf-choice"]}>
        {shelf.map((thread) => (
          <button
            key={thread.id}
            type="button"
            aria-pressed={thread.colour === colour}
            onClick={() => {
              onChoose(thread.colour);
              close();
            }}
          >
            <ThreadCard colour={thread.colour} />
            {thread.label}
          </button>
        ))}
        <label>
          Another
          <input
            type="color"
            aria-label={`Thread ${at}, ${name}: another colour`}
            value={colour ?? UNDYED}
            onChange={(e) => onChoose(e.target.value)}
          />
        </label>
      </div>
    </details>
  );
}
