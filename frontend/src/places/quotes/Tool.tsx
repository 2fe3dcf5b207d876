// A small button of the quote's bar.
interface Props {
  name: string;
  does: () => void;
  off: boolean;
}

export function Tool({ name, does, off }: Props) {
  return (
    <button type="button" className="btn btn-outline-primary btn-sm" disabled={off} onClick={does}>
      {name}
    </button>
  );
}
