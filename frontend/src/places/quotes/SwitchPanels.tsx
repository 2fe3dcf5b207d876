import style from "./SwitchPanels.module.scss";
// Where the window is too narrow for both: the piece or the making.
export type Side = "piece" | "making";
const NAMES: Record<Side, string> = { piece: "Piece", making: "Making" };

interface Props {
  side: Side;
  onSide: (side: Side) => void;
}

export function SwitchPanels({ side, onSide }: Props) {
  return (
    <div className={style["switch-panels"]} role="group" aria-label="Show">
      {(["piece", "making"] as const).map((which) => (
        <button
          key={which}
          type="button"
          className={`btn btn-sm ${side === which ? "btn-primary" : "btn-outline-primary"}`}
          aria-pressed={side === which}
          onClick={() => onSide(which)}
        >
          {NAMES[which]}
        </button>
      ))}
    </div>
  );
}
