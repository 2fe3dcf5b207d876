// The panels of the bench: ask, the piece, the making with what is opened over it.
import { memo } from "react";
import { useBench, useOpenPlace } from "../../draft";
import { WorkingSheet } from "../../parts/WorkingSheet";
import { AskPanel } from "./goods/AskPanel";
import { GoodsPicker } from "./goods/GoodsPicker";
import { MakingPanel } from "./making/MakingPanel";
import { PiecePanel } from "./piece/PiecePanel";
import type { Opened } from "./QuoteBench";
import type { Side } from "./SwitchPanels";
import style from "./BenchPanels.module.scss";
import { later } from "../../parts/later";

const PriceSheet = later(() => import("./price/PriceSheet").then((found) => found.PriceSheet));

interface Props {
  side: Side;
  /** The house could not be read. */
  failed: boolean;
  opened: Opened;
  onOpened: (to: Opened) => void;
}

export const BenchPanels = memo(function BenchPanels({ side, failed, opened, onOpened }: Props) {
  const { house, editable, price } = useBench();
  const { lineAt, placeAt } = useOpenPlace();
  const line = price.estimate?.lines[lineAt];
  const placed = line && (!editable || placeAt < line.places.length);
  return (
    <main className={`bench-panels show-${side}`}>
      {house ? (
        <div className="bare" inert={!editable}>
          <AskPanel />
        </div>
      ) : (
        <section className={style["panel"]} aria-busy="true">
          {failed ? "The shop's server does not answer. Start it, then reload." : ""}
        </section>
      )}
      {house && placed && (
        <>
          <PiecePanel />
          <div className={style["making-wrap"]}>
            <div className="bare" inert={!editable}>
              <MakingPanel />
            </div>
            {opened !== "the price" && opened.length > 0 && (
              <WorkingSheet
                path={opened}
                working={line.working.length > 0 ? line.working : null}
                onPath={onOpened}
              />
            )}
          </div>
          {opened === "the price" && <PriceSheet onClose={() => onOpened([])} />}
        </>
      )}
      {house && !placed && <GoodsPicker />}
    </main>
  );
});
