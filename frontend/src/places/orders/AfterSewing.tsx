// What is done to a piece once it is sewn, in order, and why then or so.

interface Step {
  what: string;
  why: string;
}

export function AfterSewing({ steps }: { steps: Step[] }) {
  if (steps.length === 0) return null;
  return (
    <section aria-label="After sewing">
      <h3 className="small-caps-head">After sewing, in order</h3>
      <ol>
        {steps.map((step) => (
          <li key={step.what}>
            {step.what} <span className="hint">{step.why}</span>
          </li>
        ))}
      </ol>
    </section>
  );
}
