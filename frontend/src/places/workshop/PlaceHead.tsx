// The head of the workshop's or the shelf's pages: its title, what else there is, its pages.
import { NavLink } from "react-router";
import { PLACES, type PlaceName } from "./places";
import style from "./TablePage.module.scss";

export function PlaceHead({ place, at }: { place: PlaceName; at: string }) {
  const { title, pages = [], tables, also } = PLACES[place];
  const all: [string, string][] = [
    ...pages,
    ...tables.map(({ id, name }): [string, string] => [`/${place}/${id}`, name]),
  ];
  return (
    <>
      <div className="d-flex justify-content-between align-items-center flex-wrap">
        <h1 tabIndex={-1}>{title}</h1>
        <span className="d-flex gap-3 flex-wrap">
          {also.map(([to, name]) => (
            <NavLink key={to} to={to}>
              {name}
            </NavLink>
          ))}
        </span>
      </div>
      <nav className={style["sub-places"]} aria-label={title}>
        {all.map(([to, name]) => (
          <NavLink
            key={to}
            to={to}
            end
            className={to === at ? "active" : ""}
            aria-current={to === at ? "page" : undefined}
          >
            {name}
          </NavLink>
        ))}
      </nav>
    </>
  );
}
