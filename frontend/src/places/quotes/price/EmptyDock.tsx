// The dock before there is a price: as high as with one, so that nothing moves when one comes.
import { useBench } from "../../../draft";
import { listed } from "../../../parts/format";
import style from "./EmptyDock.module.scss";

export function EmptyDock() {
  const { lacks, problems } = useBench().price;
  return (
    <section className="dock" aria-label="Price">
      <div className={style["empty-dock"]}>
        <svg aria-hidden="true" width="100%" height="100" preserveAspectRatio="none">
          <pattern id="blank-ticks" width="48" height="30" patternUnits="userSpaceOnUse">
            <path d="M0.5 0v12M12.5 0v5M24.5 0v8M36.5 0v5" stroke="var(--line-strong)" />
          </pattern>
          <rect x="0.5" y="20" width="99.8%" height="30" fill="url(#blank-ticks)" />
          <rect x="0.5" y="20" width="99.8%" height="30" fill="none" stroke="var(--line-strong)" />
          <rect x="0" y="14" width="6" height="42" fill="var(--brass)" />
        </svg>
        <p>
          {lacks.length > 0
            ? `For a price, say ${listed(lacks)}.`
            : problems.length > 0
              ? "No price until that is mended."
              : "Working out the price …"}
        </p>
      </div>
    </section>
  );
}
