// A stitch file: dropped, chosen, or one that is here already.
import { useQuery } from "@tanstack/react-query";
import { useId, useRef, useState } from "react";
import Form from "react-bootstrap/Form";
import { get, keys } from "../../../api";
import { text, useBench, useOpenPlace } from "../../../draft";
import { Told } from "../../../parts/Told";
import { counted } from "../../../parts/format";
import { PercentField } from "../price/PercentField";
import style from "./DesignFile.module.scss";
import { usePathProblem } from "./usePath";

export function DesignFile() {
  const { upload } = useBench();
  const { placement, lineAt, placeAt, actions } = useOpenPlace();
  const picker = useRef<HTMLInputElement>(null);
  const [over, setOver] = useState(false);
  const about = useQuery({ queryKey: keys.about(), queryFn: () => get("/about") });
  return (
    <>
      <div
        className={`${style["drop"]}${over ? " over" : ""}`}
        onDragEnter={() => setOver(true)}
        onDragLeave={() => setOver(false)}
        onDrop={() => setOver(false)}
      >
        {upload.busy ? (
          <>
            <span role="status">Reading {upload.busy} …</span>{" "}
            <button type="button" className="btn btn-plain" onClick={upload.cancel}>
              Cancel
            </button>
          </>
        ) : (
          <>
            Drop a stitch file here, or{" "}
            <button type="button" className="btn btn-plain" onClick={() => picker.current?.click()}>
              choose one
            </button>
          </>
        )}
        <input
          ref={picker}
          type="file"
          hidden
          aria-label="Stitch file"
          accept={about.data?.file_kinds.map((kind) => `.${kind}`).join(",")}
          onChange={(e) => {
            const file = e.target.files?.[0];
            if (file) upload.send(file);
            e.target.value = "";
          }}
        />
      </div>
      <KeptFiles />
      {text(placement.design.sha256) && (
        <PercentField
          label="Built at, % of its own size"
          value={text(placement.design.scale)}
          placeholder="100"
          where={`lines[${lineAt}].placements[${placeAt}].design.scale`}
          onChange={(scale) =>
            actions.placement("design.scale", ({ design }) => {
              if (scale) design.scale = scale as never;
              else delete design.scale;
            })
          }
        />
      )}
    </>
  );
}

function KeptFiles() {
  const id = useId();
  const { placement, actions } = useOpenPlace();
  const [search, setSearch] = useState("");
  const first = useQuery({
    queryKey: keys.designs(""),
    queryFn: () => get("/designs", { query: { search: "" } }),
  });
  const kept = useQuery({
    queryKey: keys.designs(search),
    queryFn: () => get("/designs", { query: { search } }),
    placeholderData: (previous) => previous,
  });
  const problem = usePathProblem(placement);
  if (!first.data || first.data.total === 0) return null;
  const items = kept.data?.items ?? [];
  return (
    <div className="mt-2">
      <Told of={problem} placed />
      <Form.Label htmlFor={id}>Or one that is here</Form.Label>
      {first.data.total > first.data.items.length && (
        <Form.Control
          type="search"
          className="mb-1"
          value={search}
          aria-label="Find a design by its name"
          placeholder={`part of a name, of ${first.data.total}`}
          onChange={(e) => setSearch(e.target.value)}
        />
      )}
      <Form.Select
        id={id}
        value={text(placement.design.sha256)}
        onChange={(e) => {
          const sha256 = e.target.value;
          actions.placement("design.sha256", (found) => void (found.design.sha256 = sha256));
        }}
      >
        <option value="">Choose</option>
        {items.map((item) => (
          <option key={item.sha256} value={item.sha256}>
            {`${item.name}, ${counted(item.inspection.stitches, "stitch", "stitches")}`}
          </option>
        ))}
      </Form.Select>
    </div>
  );
}
