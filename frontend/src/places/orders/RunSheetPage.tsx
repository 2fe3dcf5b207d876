// The run sheet on screen, at the machine: a placement at a time, large, with its needles and steps.
import { AfterSewing } from "./AfterSewing";
import { useQuery } from "@tanstack/react-query";
import { Link, useParams, useSearchParams } from "react-router";
import { get, keys, type RunSheet } from "../../api";
import { capital, day, number } from "../../parts/format";
import { GoesIn } from "../../parts/GoesIn";
import { Loading } from "../../parts/Loading";
import { Told } from "../../parts/Told";
import { usePageTitle } from "../../parts/usePageTitle";
import { DrawnPieces } from "./DrawnPieces";
import style from "./RunSheet.module.scss";

type Pass = RunSheet["passes"][number];

export function RunSheetPage() {
  const id = Number(useParams()["id"]);
  const [where, setWhere] = useSearchParams();
  const found = useQuery({
    queryKey: keys.runSheet(id),
    queryFn: () => get("/orders/{order_id}/run-sheet", { path: { order_id: id } }),
  });
  usePageTitle(`Run sheet ${found.data?.number ?? ""}`);
  const passes = found.data?.passes ?? [];
  const keyOf = (each: Pass) => `${each.id}.${each.placement}`;
  const asked = where.get("pass") ?? "";
  const here = passes.find((p) => keyOf(p) === asked || p.id === asked) ?? passes[0];
  return (
    <main className="standards">
      <div className="d-flex justify-content-between align-items-baseline flex-wrap gap-2">
        <h1 tabIndex={-1}>Run sheet {found.data?.number}</h1>
        <span className="d-flex gap-3">
          <a href={`/api/v1/orders/${id}/papers/run-sheet.pdf`} target="_blank" rel="noreferrer">
            On paper
          </a>
          <Link to={`/orders/${id}`}>The order</Link>
        </span>
      </div>
      <Told of={found.error} page />
      {found.isPending && <Loading what="The run sheet" />}
      {found.data && (
        <p className="hint">
          {found.data.customer}
          {found.data.promised_on && `, promised for ${day(found.data.promised_on)}`}
        </p>
      )}
      {passes.length > 1 && (
        <nav className={style["rs-passes"]} aria-label="Passes">
          {passes.map((each) => (
            <button
              key={keyOf(each)}
              type="button"
              className={`btn ${each === here ? "btn-primary" : "btn-outline-primary"}`}
              aria-pressed={each === here}
              onClick={() => setWhere({ pass: keyOf(each) }, { replace: true })}
            >
              {each.sample ? "Sample: " : ""}
              {each.place}, {each.count}
            </button>
          ))}
        </nav>
      )}
      {here && <Sheet key={keyOf(here)} id={id} pass={here} passes={passes} />}
    </main>
  );
}

function Sheet({ id, pass, passes }: { id: number; pass: Pass; passes: Pass[] }) {
  const lines = [...new Set(passes.map((each) => each.line))];
  const places = [...new Set(passes.filter((p) => p.line === pass.line).map((p) => p.placement))];
  const only = { line: lines.indexOf(pass.line), place: places.indexOf(pass.placement) };
  const facts: [string, string][] = [
    [
      "File",
      pass.piece_list.some((piece) => piece.file)
        ? "one of each name, below"
        : pass.design
          ? `${pass.file_name} (${pass.design})`
          : pass.file_name,
    ],
    ["Hoop", `${pass.hoop}; ${pass.hooping}`],
    ...(pass.held?.length ? [["Held", pass.held.join(" ")] as [string, string]] : []),
    ["Machine", `${pass.machine}, ${pass.speed}`],
    ["Stitches", `${number(pass.stitches)}, ${pass.size}; a cycle ${pass.cycle}`],
    ["Needle", pass.needle],
    ["Bobbin", pass.bobbin],
    ...(pass.stand_by ? [["Standing by", pass.stand_by] as [string, string]] : []),
    ...pass.cuts.map((cut): [string, string] => [
      capital(cut.what),
      `${cut.label}, ${cut.size}, ${number(cut.count)} ${cut.count === 1 ? "piece" : "pieces"}${
        cut.layers > 1 ? `, ${cut.layers} layers each` : ""
      }`,
    ]),
  ];
  return (
    <article aria-label={`${pass.place}, ${pass.count}`}>
      {(pass.not_yet ?? []).length > 0 && (
        <p className={style["rs-not-yet"]} role="alert">
          Not to be worked from yet: {(pass.not_yet ?? []).join(", ")}.
        </p>
      )}
      <h2 className={style["rs-title"]}>
        {pass.place}{" "}
        <span className="hint">
          {pass.count} of {pass.goods}
        </span>
      </h2>
      <div className={style["rs-columns"]}>
        <div>
          {pass.marks.map((mark) => (
            <p key={mark.sizes + mark.words} className={style["rs-mark"]}>
              {mark.sizes && <b>{mark.sizes}: </b>}
              {mark.words}
            </p>
          ))}
          <dl className={style["rs-facts"]}>
            {facts.map(([name, value]) => (
              <div key={name + value}>
                <dt>{name}</dt>
                <dd>{value}</dd>
              </div>
            ))}
          </dl>
          {pass.steps.length > 0 && (
            <section aria-label="Steps and stops">
              <h3 className="small-caps-head">Steps and stops, in order</h3>
              <ol>
                {pass.steps.map((step, n) => (
                  <li key={n}>
                    <b>{step.when}</b>: {step.label}
                  </li>
                ))}
              </ol>
            </section>
          )}
        </div>
        <div>
          <DrawnPieces id={id} only={only} size={220} />
          {pass.way_in && <GoesIn way={pass.way_in} />}
          <section aria-label="Needles">
            <h3 className="small-caps-head">On the needles</h3>
            <ol className={style["rs-needles"]}>
              {pass.needles.map((row) => (
                <li key={row.block} data-change={row.change || undefined}>
                  <span
                    className={style["rs-thread"]}
                    style={{ background: row.colour ?? "#8a8378" }}
                    aria-hidden="true"
                  />
                  <b>{row.needle ?? "by hand"}</b>
                  <span>
                    {row.name}, {row.thread}
                    <span className="hint d-block">
                      {number(row.stitches)} stitches, {row.metres} in all
                    </span>
                  </span>
                  <span>{row.change ? "change it" : "stays"}</span>
                </li>
              ))}
            </ol>
          </section>
          {pass.piece_list.length > 0 && (
            <section aria-label="Pieces in sewing order">
              <h3 className="small-caps-head">In sewing order</h3>
              <ol className={style["rs-pieces"]}>
                {pass.piece_list.map((piece) => (
                  <li key={piece.n}>
                    {piece.name || piece.kind || "plain"}
                    {piece.name && piece.kind && <span className="hint"> {piece.kind}</span>}
                    {piece.file && <code className="ms-2 text-reset">{piece.file}</code>}
                  </li>
                ))}
              </ol>
            </section>
          )}
        </div>
      </div>
      <AfterSewing steps={pass.after ?? []} />
      <section aria-label="Take care" className={style["rs-care"]}>
        <h3 className="small-caps-head">Take care</h3>
        <ul>
          {pass.cautions.map((words) => (
            <li key={words}>{words}</li>
          ))}
        </ul>
      </section>
    </article>
  );
}
