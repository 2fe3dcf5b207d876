// A table of the workshop or the shelf, edited in place; beside it what a change does to a price.
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useId, useState } from "react";
import { NavLink, useParams } from "react-router";
import { api, ProblemError, type Standard } from "../../api/client";
import { capital, words } from "../../parts/format";
import { Loading } from "../../parts/Loading";
import { ThreadCard } from "../../parts/ThreadCard";
import { useTell } from "../../parts/toasts";
import { GoodsThumb } from "../quotes";
import { PLACES, type PlaceName } from "./places";
import { RatesPage } from "./RatesPage";
import { SamplePrice } from "./SamplePrice";

const textOf = (value: unknown) => (Array.isArray(value) ? value.join(", ") : String(value));

export function TablePage({ place }: { place: PlaceName }) {
  const { title, tables, also } = PLACES[place];
  const chosen = useParams()["table"] ?? tables[0]?.id ?? "";
  const table = tables.find((each) => each.id === chosen) ?? tables[0];
  const standards = useQuery({ queryKey: ["standards"], queryFn: api.standards });
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
      {table && <SamplePrice key={table.id} />}
      {standards.error && (
        <p role="alert">The shop's server does not answer. Start it, then reload.</p>
      )}
      {standards.isPending && <Loading what={title} />}
      {table?.id === "rates" && <RatesPage />}
      {standards.data &&
        table?.sections.map((section) => (
          <Section key={section} section={section} all={standards.data} />
        ))}
    </main>
  );
}

interface SectionProps {
  section: string;
  all: Standard[];
}

function Section({ section, all }: SectionProps) {
  const [about, setAbout] = useState<Standard | null>(null);
  const mine = all.filter((s) => s.key.startsWith(`${section}.`));
  const first = mine[0];
  if (!first) return null;
  const byRow = new Map<string, Map<string, Standard>>();
  for (const each of mine) {
    const [, row = "", column = ""] = each.of
      ? each.key.split(".")
      : ["", "", each.key.split(".")[1]];
    const cells = byRow.get(row) ?? new Map<string, Standard>();
    cells.set(column, each);
    byRow.set(row, cells);
  }
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
                      {said && <span className="hint d-block">{said}</span>}
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
                      <Cell standard={each} onFocus={setAbout} />
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
                        <td key={column}>{cell && <Cell standard={cell} onFocus={setAbout} />}</td>
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
      <Cell standard={label} onFocus={onFocus} />
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

/** Another row like one that is there: a shop's own machine, hoop, roll … */
function AddRow({ section, rows }: { section: string; rows: [id: string, label: string][] }) {
  const id = useId();
  const renew = useRenew();
  const tell = useTell();
  const [label, setLabel] = useState<string | null>(null);
  const [like, setLike] = useState(rows[0]?.[0] ?? "");
  const add = useMutation({
    mutationFn: (name: string) => api.addRow(section, like, name),
    onSuccess: async () => {
      await renew();
      setLabel(null);
      tell(`${label ?? ""} is added: set what is different about it.`);
    },
  });
  const problem = add.error instanceof ProblemError ? add.error.problem : null;
  if (label === null)
    return (
      <button type="button" className="btn btn-plain" onClick={() => setLabel("")}>
        + one of your own
      </button>
    );
  return (
    <form
      className="add-row"
      onSubmit={(e) => {
        e.preventDefault();
        add.mutate(label);
      }}
    >
      <label htmlFor={`${id}-name`}>Called</label>
      <input
        id={`${id}-name`}
        className="form-control"
        autoFocus
        maxLength={80}
        value={label}
        onChange={(e) => setLabel(e.target.value)}
        onKeyDown={(e) => e.key === "Escape" && setLabel(null)}
      />
      <label htmlFor={`${id}-like`}>and otherwise like</label>
      <select
        id={`${id}-like`}
        className="form-select"
        value={like}
        onChange={(e) => setLike(e.target.value)}
      >
        {rows.map(([key, name]) => (
          <option key={key} value={key}>
            {name}
          </option>
        ))}
      </select>
      <button type="submit" className="btn btn-outline-primary btn-sm">
        Add
      </button>
      {problem && (
        <span role="alert" className="invalid-feedback d-block">
          {problem.detail} {problem.remedy}
        </span>
      )}
    </form>
  );
}

const ADDABLE = [
  "machines", "hoops", "threads", "thread_shelf", "putups", "bobbins", "backings", "rolls", "sheet_goods", "sheets",
  "hardware",
]; // prettier-ignore

/** Everything that the standards move is asked anew. */
function useRenew() {
  const queries = useQueryClient();
  return () =>
    Promise.all(
      ["standards", "house", "estimate", "sample"].map((key) =>
        queries.invalidateQueries({ queryKey: [key] }),
      ),
    );
}

interface CellProps {
  standard: Standard;
  onFocus: (standard: Standard) => void;
}

function Cell({ standard, onFocus }: CellProps) {
  const renew = useRenew();
  const tell = useTell();
  const kept = textOf(standard.value);
  const [text, setText] = useState<string | null>(null);
  const [problem, setProblem] = useState("");
  const name = `${standard.of ? `${standard.of}, ` : ""}${standard.name}`;
  const put = async (value: string) => {
    if (value === kept) return setText(null);
    try {
      const was = { value: standard.value, changed: standard.changed };
      await api.changeStandard(standard.key, standard.unit === "yes/no" ? value === "true" : value);
      await renew();
      setProblem("");
      setText(null);
      tell(`${name}: ${kept} became ${value}.`, {
        label: "Undo",
        does: () =>
          void (
            was.changed
              ? api.changeStandard(standard.key, was.value)
              : api.resetStandard(standard.key)
          ).then(renew),
      });
    } catch (error) {
      if (error instanceof ProblemError)
        setProblem(`${error.problem.detail} ${error.problem.remedy}`);
    }
  };
  const options = standard.unit === "yes/no" ? ["true", "false"] : standard.choices;
  const shared = {
    "aria-label": name,
    className: `${options.length > 0 ? "form-select" : "form-control"}${standard.changed ? " own" : ""}${problem ? " is-invalid" : ""}`,
    value: text ?? kept,
    onFocus: () => onFocus(standard),
  };
  return (
    <>
      {options.length > 0 ? (
        <select {...shared} onChange={(e) => void put(e.target.value)}>
          {options.map((option) => (
            <option key={option} value={option}>
              {option === "true" ? "yes" : option === "false" ? "no" : words(option)}
            </option>
          ))}
        </select>
      ) : (
        <input
          {...shared}
          type={standard.unit === "colour" ? "color" : "text"}
          size={Math.min(Math.max(kept.length, 5), 22)}
          onChange={(e) => setText(e.target.value)}
          onBlur={() => text !== null && void put(text.trim())}
          onKeyDown={(e) => {
            if (e.key === "Enter") e.currentTarget.blur();
            if (e.key === "Escape") {
              setText(null);
              setProblem("");
            }
          }}
        />
      )}
      {problem && (
        <span className="invalid-feedback d-block" role="alert">
          {problem}
        </span>
      )}
    </>
  );
}
