// What a piece takes, each figure opening its working.
import { useBench, useOpenPlace, useHouse, useLinePrice } from "../../../draft";
import { number } from "../../../parts/format";
import { costsHidden } from "../../../parts/money";
import { longText } from "../../../parts/units";
import { useUnits } from "../../../parts/useUnits";
import { materialName } from "../goods/goods";
import style from "./PieceFigures.module.scss";

/** From what to what a figure lies in 80 of 100 cases, as a share either way. */
function between(band: number[] | undefined): string {
  const [low, high] = band ?? [];
  if (low === undefined || high === undefined || high - low < 0.005 || low <= 0) return "";
  const off = (Math.sqrt(high / low) - 1) * 100;
  return ` ±${number(Math.round(off))}%`;
}

export function PieceFigures() {
  const house = useHouse();
  const { show } = useBench();
  const { placeAt: place } = useOpenPlace();
  const { line } = useLinePrice();
  const { units } = useUnits();
  const piece = line.per_piece;
  const cuts = (what: string) => line.cuts.filter((c) => c.what === what && c.placement === place);
  const cut = [...cuts("backing"), ...cuts("topping")];
  const at = `placements[${place}]`;
  const rows: [string, string, string][] = [
    ["Stitches", number(piece.stitches), `${at}.stitches`],
    [
      "Needle thread",
      longText(piece.needle_m, units) + between(line.sure?.needle_m),
      `${at}.needle`,
    ],
    [
      "Bobbin thread",
      longText(piece.bobbin_m, units) + between(line.sure?.bobbin_m),
      `${at}.bobbin`,
    ],
    [
      "Machine",
      `${number(piece.machine_min, 1)} min` + between(line.sure?.machine_min),
      `${at}.machine_time`,
    ],
    ["Standing by", `${number(piece.attend_min, 1)} min`, `${at}.attend_time`],
    ["Handwork", `${number(piece.hand_min, 1)} min`, "hand_time"],
    ["Bobbins", String(line.bobbins.count), `${at}.bobbins`],
    ["Spares", String(line.spares), "spares"],
  ];
  cut.forEach(({ what, material, length_mm }, n) => {
    const second = n > 0 && what === "backing" ? "_second" : "";
    const long = longText(length_mm / 1000, units);
    rows.push([materialName(house, material), long, `${at}.${what}${second}_cut`]);
  });
  return (
    <>
      <dl className={style["figures"]}>
        {rows.map(([name, value, id]) => (
          <div key={name}>
            <dt>{name}</dt>
            <dd>
              {costsHidden ? (
                value
              ) : (
                <button type="button" className="btn btn-plain" onClick={() => show(id)}>
                  {value}
                </button>
              )}
            </dd>
          </div>
        ))}
      </dl>
      {line.batch.length > 1 && (
        <p className="hint mb-0">
          Sewn as one batch of {number(line.batch_quantity)} with {line.batch.length - 1} more{" "}
          {line.batch.length === 2 ? "line" : "lines"}: bobbins and cuts are of all of them.
        </p>
      )}
    </>
  );
}
