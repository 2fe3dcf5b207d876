// Other schools: what good people do otherwise, what it costs or saves, and one press to take it.
import type { EstimateLine } from "../../api/client";
import { number, signedMoney } from "../../parts/format";
import { patched } from "./draft";
import type { DraftTools } from "./useDraft";

interface Props {
  tools: DraftTools;
  line: EstimateLine;
  currency: string;
}

export function Schools({ tools, line, currency }: Props) {
  const here = line.schools.filter((school) => school.placement === tools.placeAt);
  if (here.length === 0) return null;
  return (
    <section className="schools" aria-label="Other schools">
      <div className="sub-head">
        <h3>Others do it so</h3>
      </div>
      {here.map((school) => (
        <div key={school.id} className="school">
          <span>
            <strong>{school.question}.</strong> {school.why}
          </span>
          <button
            type="button"
            className="btn btn-sm btn-outline-primary"
            onClick={() => tools.set(patched(tools.draft, school.apply))}
          >
            Take it, {signedMoney(school.cost_difference, currency)}
            {school.minutes_difference !== 0 &&
              `, ${school.minutes_difference > 0 ? "+" : "−"}${number(Math.abs(school.minutes_difference), 1)} min`}
          </button>
        </div>
      ))}
    </section>
  );
}
