// A day of a week, drawn: stretches of work that are drawn, rubbed out, or typed beside it.
import { useRef, useState } from "react";
import { put, type Standard } from "../../api";
import { number } from "../../parts/format";
import { useTell } from "../../parts/toasts";
import { StandardCell } from "./StandardCell";
import {
  CLOSES,
  drawn,
  hoursOf,
  minuteAt,
  OPENS,
  readHours,
  share,
  writeHours,
} from "./week.geometry";
import style from "./DaysPage.module.scss";

const NAMES: Record<string, string> = {
  mon: "Monday",
  tue: "Tuesday",
  wed: "Wednesday",
  thu: "Thursday",
  fri: "Friday",
  sat: "Saturday",
  sun: "Sunday",
};

interface Props {
  standard: Standard;
  renew: () => Promise<void>;
}

export function WeekDrawn({ standard, renew }: Props) {
  const track = useRef<HTMLDivElement>(null);
  const tell = useTell();
  const [drag, setDrag] = useState<{ from: number; to: number } | null>(null);
  const kept = readHours(String(standard.value)) ?? [];
  const shown = drag ? drawn(kept, drag.from, drag.to) : kept;
  const name = NAMES[standard.key.split(".")[2] ?? ""] ?? standard.name;
  const at = (e: React.PointerEvent) => {
    const box = track.current?.getBoundingClientRect();
    return box ? minuteAt((e.clientX - box.left) / box.width) : OPENS;
  };
  const keep = async (text: string) => {
    if (text === String(standard.value)) return;
    await put("/standards/{key}", { path: { key: standard.key }, body: { value: text } });
    await renew();
    tell(`${name}: ${text === "-" ? "no work" : text}.`, {
      label: "Undo",
      does: () =>
        void put("/standards/{key}", {
          path: { key: standard.key },
          body: { value: standard.value },
        }).then(renew),
    });
  };
  return (
    <div className={style["dy-day"]}>
      <span>{name}</span>
      <div
        ref={track}
        className={style["dy-track"]}
        data-day={standard.key}
        aria-hidden="true"
        onPointerDown={(e) => {
          e.currentTarget.setPointerCapture(e.pointerId);
          setDrag({ from: at(e), to: at(e) });
        }}
        onPointerMove={(e) => drag && setDrag({ from: drag.from, to: at(e) })}
        onPointerUp={() => {
          if (drag && drag.from !== drag.to) void keep(writeHours(drawn(kept, drag.from, drag.to)));
          setDrag(null);
        }}
        onPointerCancel={() => setDrag(null)}
      >
        {hoursBetween().map((hour) => (
          <i key={hour} style={{ left: `${share(hour * 60)}%` }}>
            {hour % 3 === 0 && <small>{hour}</small>}
          </i>
        ))}
        {shown.map(([from, to]) => (
          <span
            key={from}
            style={{ left: `${share(from)}%`, width: `${share(to) - share(from)}%` }}
          />
        ))}
      </div>
      <span className={style["dy-typed"]}>
        <StandardCell standard={standard} onFocus={() => undefined} />
        <span className="hint">{number(hoursOf(shown))} h</span>
      </span>
    </div>
  );
}

const hoursBetween = () =>
  Array.from({ length: (CLOSES - OPENS) / 60 - 1 }, (_, n) => OPENS / 60 + n + 1);
