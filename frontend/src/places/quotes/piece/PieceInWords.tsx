// What a piece takes, in words under its yard: the short lengths that have no room for a name.
import { useBench, useHouse, useLinePrice } from "../../../draft";
import { counted, number } from "../../../parts/format";
import { longText, sizeText } from "../../../parts/units";
import { useUnits } from "../../../parts/useUnits";
import { materialName } from "../goods/goods";
import style from "../price/PriceDock.module.scss";

export function PieceInWords() {
  const house = useHouse();
  const { show } = useBench();
  const { line } = useLinePrice();
  const { units } = useUnits();
  const { needle_m, bobbin_m, machine_min, hand_min, attend_min } = line.per_piece;
  const cuts = line.cuts.map((cut) => {
    const [w = 0, h = 0] = cut.piece_mm;
    return `${materialName(house, cut.material).toLowerCase()} ${sizeText(w, h, units)}`;
  });
  const parts: [string, string][] = [
    [`needle ${longText(needle_m, units)}`, "cost.needle_thread"],
    [`bobbin ${longText(bobbin_m, units)}`, "cost.bobbin_thread"],
    [counted(line.bobbins.count, "bobbin"), "cost.bobbin_thread"],
    ...[...new Set(cuts)].map((cut): [string, string] => [cut, "cost.backing"]),
    [
      `machine ${number(machine_min, 1)}, hands ${number(hand_min, 1)}, standing by ${number(attend_min, 1)} min`,
      "hand_time",
    ],
  ];
  return (
    <p className={style["in-words"]}>
      {parts.map(([words, id], n) => (
        <span key={n}>
          {n > 0 && " · "}
          <button type="button" className="btn btn-plain" onClick={() => show(id)}>
            {words}
          </button>
        </span>
      ))}
    </p>
  );
}
