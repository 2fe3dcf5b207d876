// A table of the workshop or the shelf, edited in place; beside it what a change does to a price.
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { NavLink, useParams } from "react-router";
import { api, ProblemError, type Standard } from "../../api/client";
import { capital, words } from "../../parts/format";
import { Loading } from "../../parts/Loading";
import { ThreadCard } from "../../parts/ThreadCard";
import { useTell } from "../../parts/toasts";
import { GoodsThumb } from "../quotes";
import { PLACES, type PlaceName } from "./places";
import { AddRow } from "./AddRow";
import { BlanksPage } from "./BlanksPage";
import { RatesPage } from "./RatesPage";
import { POLOS, sampleFor } from "./sample";
import { SamplePrice } from "./SamplePrice";
import { StandardCell, textOf, useRenew } from "./StandardCell";

export function TablePage({ place }: { place: PlaceName }) {
  const { title, tables, also } = PLACES[place];
  const chosen = useParams()["table"] ?? tables[0]?.id ?? "";
  const table = tables.find((each) => each.id === chosen) ?? tables[0];
  const standards = useQuery({ queryKey: ["standards"], queryFn: api.standards });
  const [about, setAbout] = useState({ table: "", sample: POLOS });
  return (
    <main className="standards">
      <div className="d-flex justify-content-between align-items-center">
        <h1>{title}</h1>
        <span className="d-flex gap-3">
          {also.map(([to, name]) => (
            <NavLink key={to} to={to}>
              {name}
            </NavLink>
          ))}
        </span>
      </div>
      <nav className="sub-places" aria-label={title}>
        {tables.map((each) => (
          <NavLink
            key={each.id}
            to={`/${place}/${each.id}`}
            className={each === table ? "active" : ""}
          >
            {each.name}
          </NavLink>
        ))}
      </nav>
      {table && <p className="hint">{table.about}</p>}
      {table && table.id !== "blanks" && (
        <SamplePrice sample={about.table === table.id ? about.sample : POLOS} />
      )}
      {standards.error && (
        <p role="alert">The shop's server does not answer. Start it, then reload.</p>
      )}
      {standards.isPending && <Loading what={title} />}
      {table?.id === "rates" && <RatesPage />}
      {table?.id === "blanks" && standards.data && <BlanksPage all={standards.data} />}
      {standards.data &&
        table?.sections.map((section) => (
          <Section
            key={section}
            section={section}
            all={standards.data}
            onAbout={(standard) =>
              setAbout({ table: table.id, sample: sampleFor(standard, standards.data) })
            }
          />
        ))}
    </main>
  );
}

interface SectionProps {
  section: string;
  all: Standard[];
  /** A field of it is stood in. */
  onAbout: (standard: Standard) => void;
}

/** The rows of a table by their ids, each with its cells by column. */
export function rowsOf(section: string, all: Standard[]): Map<string, Map<string, Standard>> {
  const found = new Map<string, Map<string, Standard>>();
  for (const each of all.filter((s) => s.key.startsWith(`${section}.`))) {
    const [, row = "", column = ""] = each.of
      ? each.key.split(".")
      : ["", "", each.key.split(".")[1]];
    const cells = found.get(row) ?? new Map<string, Standard>();
    cells.set(column, each);
    found.set(row, cells);
  }
  return found;
}

export function Section({ section, all, onAbout }: SectionProps) {
  const [about, setTold] = useState<Standard | null>(null);
  const setAbout = (standard: Standard) => {
    setTold(standard);
    onAbout(standard);
  };
  const mine = all.filter((s) => s.key.startsWith(`${section}.`));
  const first = mine[0];
  if (!first) return null;
  const byRow = rowsOf(section, all);
  const columns = [...(byRow.values().next().value?.keys() ?? [])].filter((c) => c !== "label");
  const plain = byRow.size === 1 && byRow.has("");
  return (
    <section aria-label={first.topic} className="standards-table">
      <h2 className="small-caps-head">{first.topic}</h2>
      <div className="scrolls" tabIndex={0} role="group" aria-label={`${first.topic}, table`}>
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
                  const unit = mine.find((s) => s.key.endsWith(`.${column}`))?.unit ?? "";
                  const said = ["text", "choice", "id", "yes/no", "colour"].includes(unit)
                    ? ""
                    : unit;
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
                      <StandardCell standard={each} onFocus={setAbout} />
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
      {ADDABLE.includes(section) && (
        <AddRow
          section={section}
          rows={[...byRow].map(([row, cells]) => [
            row,
            cells.get("label")?.of ?? cells.values().next().value?.of ?? row,
          ])}
        />
      )}
      <p className="hint about-cell">
        {about
          ? `${about.of ? `${about.of}, ` : ""}${about.name}: ${about.reason}${
              about.low !== null && about.high !== null ? ` ${about.low} to ${about.high}.` : ""
            } Default ${textOf(about.default)} (${about.basis}).`
          : "Stand in a field to read why it is as it is."}
      </p>
    </section>
  );
}

interface HeadProps {
  section: string;
  label: Standard | undefined;
  row: string;
  colour: string | undefined;
  onFocus: (standard: Standard) => void;
}

function RowHead({ section, label, row, colour, onFocus }: HeadProps) {
  const renew = useRenew();
  const tell = useTell();
  const remove = useMutation({
    mutationFn: () => api.removeRow(section, row),
    onSuccess: async () => {
      await renew();
      tell(`${label?.of ?? row} is removed.`);
    },
    onError: (error) => {
      if (error instanceof ProblemError)
        tell(`${label?.of ?? row} stays: ${error.problem.detail} ${error.problem.remedy}`);
    },
  });
  if (!label) return words(row);
  return (
    <span className="row-head">
      {section === "thread_shelf" && <ThreadCard colour={colour ?? null} />}
      {section === "goods" && <GoodsThumb goods={row} size={32} />}
      <StandardCell standard={label} onFocus={onFocus} />
      {label.added && (
        <button
          type="button"
          className="btn btn-plain"
          aria-label={`Remove ${label.of}`}
          onClick={() => remove.mutate()}
        >
          remove
        </button>
      )}
    </span>
  );
}

const ADDABLE = [
  "machines", "hoops", "threads", "thread_shelf", "putups", "bobbins", "backings", "rolls", "sheet_goods", "sheets",
  "hardware", "suppliers",
]; // prettier-ignore
