// The papers of the workshop as they would be: to look ahead, before there is an order.
import { useBench } from "../../../draft";
import { PaperLink, PaperLinks } from "../../../parts/PaperLink";

const PAPERS: [kind: string, name: string][] = [
  ["run-sheet", "run sheet"],
  ["template", "template"],
  ["labels", "labels"],
  ["proof", "proof"],
];

export function LookAhead() {
  const { quote, price } = useBench();
  if (price.lacks.length > 0 || price.problems.length > 0) return null;
  return (
    <PaperLinks>
      <p className="hint mb-0 mt-2">
        Look ahead on paper:{" "}
        {PAPERS.map(([kind, name], n) => (
          <span key={kind}>
            {n > 0 && ", "}
            <PaperLink href={`/api/v1/quotes/${quote.id}/papers/${kind}.pdf`} name={`The ${name}`}>
              {name}
            </PaperLink>
          </span>
        ))}
        {". "}
        <a href={`/api/v1/quote-documents/${quote.id}.json`} download>
          The quote as a document
        </a>
      </p>
    </PaperLinks>
  );
}
