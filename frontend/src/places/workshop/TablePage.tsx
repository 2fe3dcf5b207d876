// A table of the workshop or the shelf, edited in place; beside it what a change does to a price.
import { useState } from "react";
import { useParams } from "react-router";
import { useStandards } from "../../api";
import { Loading } from "../../parts/Loading";
import { PLACES, type PlaceName } from "./places";
import { BlanksPage } from "./BlanksPage";
import { PlaceHead } from "./PlaceHead";
import { RatesPage } from "./RatesPage";
import { POLOS, sampleFor } from "./sample";
import { SamplePrice } from "./SamplePrice";
import { SetAside } from "./SetAside";
import { TableSection } from "./TableSection";
import { usePageTitle } from "../../parts/usePageTitle";

export function TablePage({ place }: { place: PlaceName }) {
  const { tables, title } = PLACES[place];
  const chosen = useParams()["table"] ?? tables[0]?.id ?? "";
  const table = tables.find((each) => each.id === chosen) ?? tables[0];
  usePageTitle([table?.name, title].filter(Boolean).join(", "));
  const standards = useStandards();
  const [about, setAbout] = useState({ table: "", sample: POLOS });
  return (
    <main className="standards">
      <PlaceHead place={place} at={`/${place}/${table?.id ?? ""}`} />
      {table && <p className="hint">{table.about}</p>}
      {table && table.id !== "blanks" && (
        <SamplePrice sample={about.table === table.id ? about.sample : POLOS} />
      )}
      {standards.data && <SetAside all={standards.data} />}
      {standards.error && (
        <p role="alert">The shop's server does not answer. Start it, then reload.</p>
      )}
      {standards.isPending && <Loading what={title} />}
      {table?.id === "rates" && <RatesPage />}
      {table?.id === "blanks" && standards.data && <BlanksPage all={standards.data} />}
      {standards.data &&
        table?.sections.map((section) => (
          <TableSection
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
