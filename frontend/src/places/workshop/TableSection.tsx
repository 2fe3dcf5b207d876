// One table of standards, a row for each of its kind, every cell a field.
import { useState } from "react";
import { type Standard } from "../../api";
import { capital, symbol, words } from "../../parts/format";
import { AddRow } from "./AddRow";
import { HoopForm } from "./HoopForm";
import { RowHead } from "./RowHead";
import { ADDABLE, rowsOf } from "./rows";
import { textOf, unitOf } from "./standard";
import { StandardCell } from "./StandardCell";
import style from "./TableSection.module.scss";

interface SectionProps {
  section: string;
  all: Standard[];
  /** A field of it is stood in. */
  onAbout: (standard: Standard) => void;
}

const WITHOUT_UNIT = ["text", "choice", "id", "yes/no", "colour", "currency"];

/** The unit that a value is measured in; "" for words and choices. */
const measured = (standard: Standard | undefined, sign: string): string =>
  standard && !WITHOUT_UNIT.includes(standard.unit) ? unitOf(standard, sign) : "";

export function TableSection({ section, all, onAbout }: SectionProps) {
  const [about, setTold] = useState<Standard | null>(null);
  const setAbout = (standard: Standard) => {
    setTold(standard);
    onAbout(standard);
  };
  const mine = all.filter((s) => s.key.startsWith(`${section}.`));
  const first = mine[0];
  if (!first) return null;
  const byRow = rowsOf(section, all);
  const sign = symbol(String(all.find((s) => s.key === "price.currency")?.value ?? "GBP"));
  const columns = [...(byRow.values().next().value?.keys() ?? [])].filter((c) => c !== "label");
  const plain = byRow.size === 1 && byRow.has("");
  return (
    <section aria-label={first.topic} className={style["standards-table"]}>
      <h2 className="small-caps-head">{first.topic}</h2>
      <div
        className={style["scrolls"]}
        tabIndex={0}
        role="group"
        aria-label={`${first.topic}, table`}
      >
        <table>
          <thead>
            <tr>
              <th scope="col">{plain ? "Rule" : "Name"}</th>
              {plain ? (
                <>
                  <th scope="col">Value</th>
                  <th scope="col">Why</th>
                </>
              ) : (
                columns.map((column) => {
                  const said = measured(
                    mine.find((s) => s.key.endsWith(`.${column}`)),
                    sign,
                  );
                  return (
                    <th scope="col" key={column}>
                      {capital(words(column.replace(/_(mm|s|m|spm|h)$/, "")))}
                      {said && said !== column && <span className="hint d-block">{said}</span>}
                    </th>
                  );
                })
              )}
            </tr>
          </thead>
          <tbody>
            {plain
              ? mine.map((each) => (
                  <tr key={each.key}>
                    <th scope="row">{capital(each.name)}</th>
                    <td>
                      <StandardCell standard={each} onFocus={setAbout} />{" "}
                      <span className="hint">{measured(each, sign)}</span>
                    </td>
                    <td className="hint">{each.reason}</td>
                  </tr>
                ))
              : [...byRow].map(([row, cells]) => (
                  <tr key={row}>
                    <th scope="row">
                      <RowHead
                        section={section}
                        label={cells.get("label")}
                        row={row}
                        colour={cells.get("colour")?.value as string | undefined}
                        onFocus={setAbout}
                      />
                    </th>
                    {columns.map((column) => {
                      const cell = cells.get(column);
                      return (
                        <td key={column}>
                          {cell && <StandardCell standard={cell} onFocus={setAbout} />}
                        </td>
                      );
                    })}
                  </tr>
                ))}
          </tbody>
        </table>
      </div>
      {section === "hoops" && <HoopForm all={all} button="+ one of your own" />}
      {ADDABLE.includes(section) && section !== "hoops" && (
        <AddRow
          section={section}
          rows={[...byRow].map(([row, cells]) => [
            row,
            cells.get("label")?.of ?? cells.values().next().value?.of ?? row,
          ])}
        />
      )}
      <p className={`hint ${style["about-cell"]}`}>
        {about
          ? `${about.of ? `${about.of}, ` : ""}${about.name}: ${about.reason}${
              about.low !== null && about.high !== null ? ` ${about.low} to ${about.high}.` : ""
            } Default ${textOf(about.default, about)} (${about.basis}).`
          : "Stand in a field to read why it is as it is."}
      </p>
    </section>
  );
}
