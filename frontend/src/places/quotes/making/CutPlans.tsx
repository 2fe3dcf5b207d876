// How backing and topping are cut, drawn on the roll: pieces, what is over, what is kept.
import { type EstimateLine } from "../../../api";
import { useOpenPlace, useHouse, useLinePrice } from "../../../draft";
import { counted, money, percent } from "../../../parts/format";
import { costsHidden } from "../../../parts/money";
import { lengthText, longText } from "../../../parts/units";
import { useUnits } from "../../../parts/useUnits";
import { materialName } from "../goods/goods";
import style from "./CutPlans.module.scss";

type Cut = EstimateLine["cuts"][number];
const MOST_DRAWN = 240;

export function CutPlans() {
  const house = useHouse();
  const { placeAt } = useOpenPlace();
  const { estimate, line } = useLinePrice();
  const cuts = line.cuts.filter((cut) => cut.placement === placeAt);
  if (cuts.length === 0) return null;
  return (
    <section aria-label="Cut plans">
      <div className="sub-head">
        <h3>Cut from the roll</h3>
      </div>
      {cuts.map((cut, n) => (
        <CutPlan
          key={n}
          cut={cut}
          material={materialName(house, cut.material)}
          currency={estimate.currency}
        />
      ))}
    </section>
  );
}

function CutPlan({ cut, material, currency }: { cut: Cut; material: string; currency: string }) {
  const { units } = useUnits();
  const [w, h] = [cut.piece_mm[0] ?? 1, cut.piece_mm[1] ?? 1];
  const rows = Math.min(cut.rows, cut.rows_each);
  const long = Math.max(rows * cut.step_mm, cut.width_mm * 0.4);
  const drawn = Math.min(cut.count, rows * cut.across, MOST_DRAWN);
  const pieces = `${counted(cut.count, "piece")} of ${lengthText(w, units)} by ${lengthText(h, units)}, ${cut.across} across`;
  const told = `${pieces}: ${lengthText(cut.length_mm, units)} of ${material}`;
  return (
    <figure className={style["cut-plan"]}>
      <svg
        role="img"
        aria-label={told}
        viewBox={`0 0 ${long} ${cut.width_mm}`}
        preserveAspectRatio="xMinYMid meet"
      >
        <rect width={long} height={cut.width_mm} className={style["roll"]} />
        {Array.from({ length: drawn }, (_, i) => {
          const [row, column] = [Math.floor(i / cut.across), i % cut.across];
          return (
            <rect
              key={i}
              x={row * cut.step_mm}
              y={column * w}
              width={h}
              height={w}
              className={style["cut"]}
            />
          );
        })}
        {cut.offcuts.map((left, n) => (
          <rect
            key={n}
            x={left.y_mm}
            y={left.x_mm}
            width={Math.min(left.length_mm, long - left.y_mm)}
            height={left.width_mm}
            className={style["kept"]}
          />
        ))}
      </svg>
      <figcaption>
        <b>{material}</b>: {pieces}: {longText(cut.length_mm / 1000, units)} of the{" "}
        {lengthText(cut.width_mm, units)} roll
        {!cut.fits && ", joined from strips"}. Waste {percent(cut.waste)}
        {cut.offcuts.length > 0 && `, of it ${cut.offcuts.length} worth keeping`}
        {!costsHidden && `; ${money(cut.cost, currency)}`}.
      </figcaption>
    </figure>
  );
}
