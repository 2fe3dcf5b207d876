// The papers of the workshop, of an order or, as a look ahead, of a draft.
import { useState } from "react";
import { Link } from "react-router";
import { type OrderView } from "../../api";
import { PaperLink, PaperLinks } from "../../parts/PaperLink";
import style from "./Orders.module.scss";

const PAPERS: [kind: string, name: string, what: string][] = [
  ["run-sheet", "Run sheet", "all for the machine, a page a place"],
  ["template", "Template", "full size: print at 100%"],
  ["labels", "Labels", "one a piece"],
  ["proof", "Proof", "for the customer"],
  ["get-ready", "Get-ready list", "what is laid out"],
  ["order", "Order sheet", "who, what, by when"],
];

const KINDS = ["dst", "pes", "exp", "jef", "vp3", "pec", "u01", "tbf"];

export function Papers({ order }: { order: OrderView }) {
  const [kind, setKind] = useState("dst");
  return (
    <section aria-label="Papers">
      <h2 className="small-caps-head">Papers</h2>
      <PaperLinks>
        <ul className={style["od-papers"]}>
          {PAPERS.map(([kind, name, what]) => (
            <li key={kind}>
              <PaperLink href={`/api/v1/orders/${order.id}/papers/${kind}.pdf`} name={name}>
                {name}
              </PaperLink>{" "}
              <span className="hint">{what}</span>
              {kind === "run-sheet" && (
                <>
                  {" "}
                  <Link to={`/orders/${order.id}/run-sheet`}>on screen</Link>
                </>
              )}
              {kind === "template" && (
                <>
                  {" "}
                  <PaperLink
                    href={`/api/v1/orders/${order.id}/papers/template.pdf?mirrored=true`}
                    name="The mirrored template"
                  >
                    mirrored
                  </PaperLink>
                </>
              )}
            </li>
          ))}
          <li>
            <PaperLink
              href={`/api/v1/orders/${order.id}/stitch-files.zip?kind=${kind}`}
              name="Stitch files"
            >
              Stitch files
            </PaperLink>{" "}
            <span className="hint">as they go to the machine, each name, as</span>{" "}
            <select
              className="form-select form-select-sm d-inline-block w-auto"
              aria-label="Kind of stitch file"
              value={kind}
              onChange={(e) => setKind(e.target.value)}
            >
              {KINDS.map((each) => (
                <option key={each} value={each}>
                  .{each}
                </option>
              ))}
            </select>
          </li>
          <li>
            <a href={`/api/v1/order-documents/${order.id}.json`} download>
              The order as a document
            </a>
          </li>
        </ul>
      </PaperLinks>
    </section>
  );
}
