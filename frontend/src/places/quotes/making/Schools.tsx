// Other schools: what good people do otherwise, what it costs or saves, and one press to take it.
import { useOpenPlace, useLinePrice } from "../../../draft";
import { number, signedMoney } from "../../../parts/format";
import style from "./Schools.module.scss";

export function Schools() {
  const { placeAt, actions } = useOpenPlace();
  const { estimate, line } = useLinePrice();
  const here = line.schools.filter((school) => school.placement === placeAt);
  if (here.length === 0) return null;
  return (
    <section className="schools" aria-label="Other schools">
      <div className="sub-head">
        <h3>Others do it so</h3>
      </div>
      {here.map((school) => (
        <div key={school.id} className={style["school"]}>
          <span>
            <strong>{school.question}.</strong> {school.why}
          </span>
          <button
            type="button"
            className="btn btn-sm btn-outline-primary"
            onClick={() => actions.fix(school.apply)}
          >
            Take it, {signedMoney(school.cost_difference, estimate.currency)}
            {school.minutes_difference !== 0 &&
              `, ${school.minutes_difference > 0 ? "+" : "−"}${number(Math.abs(school.minutes_difference), 1)} min`}
          </button>
        </div>
      ))}
    </section>
  );
}
