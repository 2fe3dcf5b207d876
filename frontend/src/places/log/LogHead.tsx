// The log's three pages: what was done, what it teaches, what pays.
import { NavLink } from "react-router";
import style from "./Log.module.scss";

export function LogHead({ title, children }: { title: string; children?: React.ReactNode }) {
  return (
    <>
      <div className="d-flex justify-content-between align-items-baseline flex-wrap gap-2">
        <h1 tabIndex={-1}>{title}</h1>
        {children}
      </div>
      <nav aria-label="The log" className={style["lg-nav"]}>
        <NavLink to="/log" end>
          What was done
        </NavLink>
        <NavLink to="/log/learn">What it teaches</NavLink>
        <NavLink to="/log/pays">What pays</NavLink>
      </nav>
    </>
  );
}
