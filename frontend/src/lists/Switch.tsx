// A way of looking at a list that is on or off.
interface Props {
  on: boolean;
  onTurn: (on: boolean) => void;
  children: React.ReactNode;
}

export function Switch({ on, onTurn, children }: Props) {
  return (
    <button
      type="button"
      className={`btn btn-sm mb-1 ${on ? "btn-primary" : "btn-outline-primary"}`}
      aria-pressed={on}
      onClick={() => onTurn(!on)}
    >
      {children}
    </button>
  );
}
