// A paper that is set when it is asked for: while it is set that is said, and can be stopped; what is
// wrong is told here and not in an empty page. Then it opens in a page of its own.
import {
  createContext,
  useContext,
  useRef,
  useState,
  type MouseEvent,
  type ReactNode,
} from "react";
import { capital } from "./format";

interface Setting {
  name: string;
  wrong: string;
}

interface Papers {
  press: (event: MouseEvent<HTMLAnchorElement>, name: string) => void;
}

const PapersContext = createContext<Papers | null>(null);

/** Holds links to papers, and says which of them is being set just now. */
export function PaperLinks({ children }: { children: ReactNode }) {
  const [now, setNow] = useState<Setting>({ name: "", wrong: "" });
  const stop = useRef<AbortController | null>(null);
  const press = (event: MouseEvent<HTMLAnchorElement>, name: string) => {
    if (event.ctrlKey || event.metaKey || event.shiftKey || event.button !== 0) return;
    event.preventDefault();
    stop.current?.abort();
    const mine = new AbortController();
    stop.current = mine;
    const { href } = event.currentTarget;
    const opened = window.open("", "_blank");
    setNow({ name, wrong: "" });
    const get = async () => {
      const answer = await fetch(href, { signal: mine.signal });
      if (!answer.ok) {
        const problem = (await answer.json()) as { detail?: string; remedy?: string };
        throw new Error(`${capital(problem.detail ?? "")} ${problem.remedy ?? ""}`.trim());
      }
      await answer.blob(); // the page that opens has it at once: it is kept for a moment
      if (opened) opened.location.replace(href);
      else window.location.assign(href);
      setNow({ name: "", wrong: "" });
    };
    get().catch((error: unknown) => {
      opened?.close();
      const away = "The shop's server does not answer. Try it again.";
      const said = error instanceof Error && !(error instanceof TypeError) ? error.message : away;
      setNow({ name: "", wrong: mine.signal.aborted ? "" : said });
    });
  };
  return (
    <PapersContext value={{ press }}>
      {children}
      <p role="status" className="mb-0">
        {now.name && (
          <>
            {now.name} is being set …{" "}
            <button
              type="button"
              className="btn btn-plain"
              onClick={() => {
                stop.current?.abort();
                setNow({ name: "", wrong: "" });
              }}
            >
              Stop
            </button>
          </>
        )}
      </p>
      {now.wrong && (
        <p className="invalid-feedback d-block" role="alert">
          {now.wrong}
        </p>
      )}
    </PapersContext>
  );
}

interface Props {
  href: string;
  /** What is said to be set. */
  name: string;
  children: ReactNode;
}

export function PaperLink({ href, name, children }: Props) {
  const papers = useContext(PapersContext);
  return (
    <a href={href} target="_blank" rel="noreferrer" onClick={(event) => papers?.press(event, name)}>
      {children}
    </a>
  );
}
