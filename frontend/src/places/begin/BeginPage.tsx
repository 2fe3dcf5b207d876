// The first hour: a shop set up in seven short steps, each skippable and taken up again.
import { useEffect, useRef } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { useStandards, type Beginning, type Standard, useBeginning } from "../../api";
import { Loading } from "../../parts/Loading";
import { usePageTitle } from "../../parts/usePageTitle";
import { SamplePrice } from "../workshop";
import { moveOn } from "../../parts/moveOn";
import { Blanks, Hoops, Machines, Money, sampleIn, Shelf, TheShop, TryIt } from "./steps";
import style from "./Begin.module.scss";

type StepId = NonNullable<Beginning["done"]>[number];

const STEPS: [id: StepId, name: string, about: string, Body: (p: BodyProps) => React.ReactNode][] =
  [
    ["shop", "The shop", "What customers read on every paper, and the units you think in.", TheShop],
    ["machines", "Machines", "Tick what you have; what is not yours is neither proposed nor compared.", Machines],
    ["hoops", "Hoops", "Tick what you have: a design is only laid into those.", Hoops],
    ["rates", "Hours and pay", "Nobody else knows these, and every price stands on them.", Money],
    ["shelf", "Thread and backing", "The colours you have, and what a roll of backing costs you.", Shelf],
    ["blanks", "Usual blanks", "Three that you sell most, or a supplier's price list.", Blanks],
    ["price", "A first price", "What it comes to, on the yard: every length is one of its costs.", TryIt],
  ]; // prettier-ignore

export interface BodyProps {
  all: Standard[];
}

export function BeginPage() {
  const chosen = useParams()["step"];
  const navigate = useNavigate();
  const { beginning, change } = useBeginning();
  const standards = useStandards();
  const at = Math.max(
    0,
    STEPS.findIndex(([id]) => (chosen ? id === chosen : !(beginning?.done ?? []).includes(id))),
  );
  const step = STEPS[at];
  const [id, name, about, Body] = step ?? STEPS[0] ?? [];
  usePageTitle(`Set up: ${name ?? ""}`);
  const head = useRef<HTMLHeadingElement>(null);
  useEffect(() => {
    if (chosen) head.current?.focus();
  }, [chosen]);
  if (!beginning || !id || !Body) return <Loading what="The shop" />;
  const done = beginning.done ?? [];
  const next = STEPS[at + 1]?.[0];
  const leave = () => {
    change.mutate({ done, closed: true }, { onSuccess: () => void navigate("/quotes") });
  };
  const goOn = (mark: boolean) => {
    const now = mark ? [...done.filter((each) => each !== id), id] : done;
    if (mark) change.mutate({ done: now, closed: beginning.closed ?? false });
    if (next) void navigate(`/begin/${next}`);
    else leave();
  };
  return (
    <main className={`standards ${style["begin"] ?? ""}`}>
      <header className="d-flex justify-content-between align-items-baseline flex-wrap gap-2">
        <h1>Set up the shop</h1>
        <span>
          About ten minutes; every step can be skipped and taken up again.{" "}
          <button type="button" className="btn btn-plain" onClick={leave}>
            Later: go to the quotes
          </button>
        </span>
      </header>
      <div className={style["be-columns"]}>
        <nav aria-label="Steps">
          <ol className={style["be-steps"]}>
            {STEPS.map(([each, title]) => (
              <li key={each}>
                <Link
                  to={`/begin/${each}`}
                  aria-current={each === id ? "step" : undefined}
                  className={done.includes(each) ? style["be-done"] : ""}
                >
                  {title}
                  {done.includes(each) && <span className="hint"> done</span>}
                </Link>
              </li>
            ))}
          </ol>
        </nav>
        <section aria-label={name} onKeyDown={moveOn} className={style["be-body"]}>
          <h2 className="small-caps-head" tabIndex={-1} ref={head}>
            {name}
          </h2>
          <p className="hint">{about}</p>
          {standards.data ? <Body all={standards.data} /> : <Loading what="The standards" />}
          <p className="d-flex gap-3 mt-4 mb-0 align-items-center">
            <button
              type="button"
              className={`btn ${next ? "btn-primary" : "btn-outline-primary"}`}
              onClick={() => goOn(true)}
            >
              {next ? "Done, go on" : "Done: to the quotes"}
            </button>
            {next && (
              <button type="button" className="btn btn-plain" onClick={() => goOn(false)}>
                Skip for now
              </button>
            )}
          </p>
        </section>
      </div>
      {id !== "shop" && standards.data && <SamplePrice sample={sampleIn(standards.data)} />}
    </main>
  );
}
