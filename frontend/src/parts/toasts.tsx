// What was done, said briefly, with a way back; and a boundary for what must not happen.
import { Component, createContext, useCallback, useContext, useRef, useState } from "react";
import Toast from "react-bootstrap/Toast";
import { Told } from "./Told";
import style from "./toasts.module.scss";

interface Told {
  id: number;
  text: string;
  undo?: { label: string; does: () => void };
}

type Tell = (text: string, undo?: Told["undo"]) => void;

const Telling = createContext<Tell>(() => undefined);
const LASTS_MS = 12_000;

export const useTell = () => useContext(Telling);

export function Toasts({ children }: { children: React.ReactNode }) {
  const [told, setTold] = useState<Told[]>([]);
  const next = useRef(0);
  const tell = useCallback<Tell>((text, undo) => {
    next.current += 1;
    const one: Told = { id: next.current, text, ...(undo ? { undo } : {}) };
    setTold((old) => [...old.slice(-2), one]);
  }, []);
  const drop = (id: number) => setTold((old) => old.filter((each) => each.id !== id));
  return (
    <Telling value={tell}>
      {children}
      <div className={style["toasts"]} role="status">
        {told.map(({ id, text, undo }) => (
          <Toast key={id} autohide delay={LASTS_MS} animation={false} onClose={() => drop(id)}>
            <Toast.Body>
              <span>{text}</span>
              {undo && (
                <button
                  type="button"
                  className="btn btn-plain"
                  onClick={() => {
                    undo.does();
                    drop(id);
                  }}
                >
                  {undo.label}
                </button>
              )}
              <button
                type="button"
                className="btn btn-plain ms-auto"
                aria-label="Close this message"
                onClick={() => drop(id)}
              >
                Close
              </button>
            </Toast.Body>
          </Toast>
        ))}
      </div>
    </Telling>
  );
}

/** Our own fault: says what is kept and what to do, instead of a white page. */
export class Boundary extends Component<{ children: React.ReactNode }, { broke: string | null }> {
  override state = { broke: null as string | null };
  static getDerivedStateFromError(error: unknown) {
    return { broke: error instanceof Error ? error.message : String(error) };
  }
  override render() {
    if (this.state.broke === null) return this.props.children;
    return (
      <main className="standards" role="alert">
        <h1>This screen broke, and it is our fault</h1>
        <p>
          What you typed is kept, in the shop and in this browser. Load the page again; if it breaks
          once more, open another quote from <a href="/quotes">the list</a>.
        </p>
        <p className="hint">It said: {this.state.broke}</p>
        <button type="button" className="btn btn-primary" onClick={() => window.location.reload()}>
          Load again
        </button>
      </main>
    );
  }
}
