// The frame: the shop's bar with the places there are, and help.
import { post, type QuoteDocument } from "../api";
import { useEffect, useRef, useState } from "react";
import { Link, NavLink, useNavigate } from "react-router";

import { Dialog } from "./Dialog";
import { useMoved, useNewer, useReached } from "./connection";
import { costsHidden, turnCosts } from "./money";
import { useFocusKept } from "./useFocusKept";
import style from "./Frame.module.scss";

const KEYS: [string, string][] = [
  ["Enter", "in a field: on to the next"],
  ["Alt + N", "new quote"],
  ["Alt + T / Alt + P", "today, the plan"],
  ["Alt + Q / Alt + C / Alt + O", "quotes, customers, orders"],
  ["Alt + H / Alt + W / Alt + L", "shelf, workshop, log"],
  ["Alt + 1 2 3 4", "on the bench: ask, piece, making, price"],
  ["Alt + M", "costs out of sight, or back: for a screen that a customer looks at"],
  ["Alt + Z / Alt + Y", "undo, redo"],
  ["Arrow keys", "on the price end, the tape or a design in place: one step; with Shift ten"],
  ["Escape", "price as worked out; close the working"],
  ["?", "this list"],
];

/** The places that a narrow window keeps under *more*. */
const Rest = () => (
  <>
    <NavLink to="/shelf">Shelf</NavLink>
    <NavLink to="/workshop">Workshop</NavLink>
    <NavLink to="/log">Log</NavLink>
  </>
);

export function Frame() {
  const [help, setHelp] = useState(false);
  useFocusKept();
  const navigate = useNavigate();
  const making = useRef(false);
  const reached = useReached();
  const moved = useMoved();
  const newer = useNewer();
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      if (event.altKey && event.code === "KeyN") {
        event.preventDefault();
        if (!making.current) {
          making.current = true; // held or pressed twice it makes one
          void post("/quotes", { body: {} as QuoteDocument })
            .then((view) => navigate(`/quotes/${view.id}`))
            .finally(() => (making.current = false));
        }
      }
      const place = {
        KeyT: "/",
        KeyP: "/orders/plan",
        KeyQ: "/quotes",
        KeyC: "/customers",
        KeyO: "/orders",
        KeyH: "/shelf",
        KeyW: "/workshop",
        KeyL: "/log",
      }[event.code];
      if (event.altKey && place) {
        event.preventDefault();
        void navigate(place);
      }
      if (event.altKey && event.code === "KeyM") {
        event.preventDefault();
        turnCosts();
      }
      const typing = (event.target as Element).closest("input, textarea, select");
      if (event.key === "?" && !typing) setHelp(true);
    };
    window.addEventListener("keydown", listen);
    return () => window.removeEventListener("keydown", listen);
  }, [navigate]);
  return (
    <header className={style["frame-bar"]}>
      <Link to="/" className={style["shop-name"]} aria-label="Clothyard">
        <img src="/favicon.svg" width="24" height="24" alt="" />
        <span className={style["wide-only"]}>Clothyard</span>
      </Link>
      <nav aria-label="Places">
        {!costsHidden && (
          <NavLink to="/" end>
            Today
          </NavLink>
        )}
        <NavLink to="/quotes">Quotes</NavLink>
        {!costsHidden && (
          <>
            <NavLink to="/orders">Orders</NavLink>
            <span className={style["rest"]}>
              <Rest />
            </span>
            <details
              className={style["more"]}
              onClick={(event) => {
                // chosen, it closes; pressed elsewhere in it, it opens and closes by itself
                if ((event.target as Element).closest("a")) event.currentTarget.open = false;
              }}
            >
              <summary>more</summary>
              <div>
                <Rest />
              </div>
            </details>
          </>
        )}
      </nav>
      <div className={style["end"]}>
        <button
          type="button"
          className="btn btn-outline-primary btn-sm"
          aria-pressed={costsHidden}
          aria-label={costsHidden ? "Show costs" : "Hide costs"}
          onClick={turnCosts}
        >
          <span className={style["wider-only"]}>{costsHidden ? "Show " : "Hide "}</span>
          costs
        </button>{" "}
        <button
          type="button"
          className="btn btn-outline-primary btn-sm"
          aria-label="Keys and help"
          onClick={() => setHelp(true)}
        >
          ?
        </button>
      </div>
      {!reached && (
        <p className={`${style["not-reached"]} ${style["away"]}`} role="status">
          The shop's server does not answer. What you type is kept in this browser and sent as soon
          as it is back.
        </p>
      )}
      {moved && (
        <p className={`${style["not-reached"]} ${style["in-the-way"]}`} role="status">
          Another shop is here, or a backup was gone back to: nothing is sent until you reload.{" "}
          <button type="button" className="btn btn-plain" onClick={() => location.reload()}>
            Reload
          </button>
        </p>
      )}
      {newer && !moved && (
        <p className={style["not-reached"]} role="status">
          Clothyard was renewed: this page still runs what was before.{" "}
          <button type="button" className="btn btn-plain" onClick={() => location.reload()}>
            Load it anew
          </button>
        </p>
      )}
      {help && (
        <Dialog title="Keys" onClose={() => setHelp(false)}>
          <dl>
            {KEYS.map(([key, does]) => (
              <div key={key} className="d-flex gap-3">
                <dt className="col-4">{key}</dt>
                <dd>{does}</dd>
              </div>
            ))}
          </dl>
          <p className="hint mb-0">
            Every figure with a dotted line, and every length of the yard, opens its working.
          </p>
        </Dialog>
      )}
    </header>
  );
}
