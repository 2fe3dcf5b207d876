// The design: a stitch file dropped or chosen, or a count.
import { useQuery } from "@tanstack/react-query";
import { useId, useRef, useState } from "react";
import Form from "react-bootstrap/Form";
import { api, type House } from "../../api/client";
import { number } from "../../parts/format";
import type { DraftDesign } from "./draft";
import { Field } from "./Field";
import type { DraftTools } from "./useDraft";
import type { useEstimate } from "./useEstimate";

interface Props {
  tools: DraftTools;
  house: House;
  at: ReturnType<typeof useEstimate>["at"];
  upload: {
    error: string | null;
    busy: string | null;
    send: (f: File) => void;
    cancel: () => void;
  };
}

const DESIGN = "lines[0].placements[0].design";

export function DesignField({ tools, house, at, upload }: Props) {
  const [placement] = tools.draft.lines[0].placements;
  const { design } = placement;
  const change = (to: Partial<DraftDesign>) => tools.setPlacement({ design: { ...design, ...to } });
  return (
    <fieldset>
      <legend className="form-label">Design</legend>
      <div className="ways" role="group" aria-label="Where the design comes from">
        {(["file", "count"] as const).map((way) => (
          <button
            key={way}
            type="button"
            className={`btn btn-sm ${design.way === way ? "btn-primary" : "btn-outline-primary"}`}
            aria-pressed={design.way === way}
            onClick={() => change({ way })}
          >
            {way === "file" ? "Stitch file" : "Count"}
          </button>
        ))}
      </div>
      {design.way === "file" ? (
        <FromFile design={design} change={change} upload={upload} />
      ) : (
        <FromCount design={design} change={change} house={house} at={at} />
      )}
      {upload.error && (
        <div className="invalid-feedback d-block" role="alert">
          {upload.error}
        </div>
      )}
      <Form.Check
        id="sewn-before"
        className="mt-2"
        label="Sewn before (no digitising, no sample)"
        checked={design.repeat}
        onChange={(e) => change({ repeat: e.target.checked })}
      />
    </fieldset>
  );
}

interface FromFileProps {
  design: DraftDesign;
  change: (to: Partial<DraftDesign>) => void;
  upload: Props["upload"];
}

function FromFile({ design, change, upload }: FromFileProps) {
  const picker = useRef<HTMLInputElement>(null);
  const [over, setOver] = useState(false);
  const kept = useQuery({ queryKey: ["designs"], queryFn: api.designs });
  const about = useQuery({ queryKey: ["about"], queryFn: api.about });
  const id = useId();
  return (
    <>
      <div
        className={`drop${over ? " over" : ""}`}
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
      {kept.data && kept.data.length > 0 && (
        <div className="mt-2">
          <Form.Label htmlFor={id}>Or one that is here</Form.Label>
          <Form.Select
            id={id}
            value={design.sha256}
            onChange={(e) => change({ sha256: e.target.value })}
          >
            <option value="">Choose</option>
            {kept.data.map((item) => (
              <option key={item.sha256} value={item.sha256}>
                {`${item.name}, ${number(item.inspection.stitches)} stitches`}
              </option>
            ))}
          </Form.Select>
        </div>
      )}
    </>
  );
}

interface FromCountProps extends Omit<FromFileProps, "upload"> {
  house: House;
  at: Props["at"];
}

function FromCount({ design, change, house, at }: FromCountProps) {
  const id = useId();
  const field = (key: keyof DraftDesign, label: string, inputMode: "numeric" | "decimal") => (
    <Field
      label={label}
      value={String(design[key])}
      inputMode={inputMode}
      placeholder={key === "stitches" ? undefined : "proposed"}
      error={at(`${DESIGN}.${key}`)}
      onChange={(text) => change({ [key]: text })}
    />
  );
  return (
    <div className="ask-fields">
      {field("stitches", "Stitches", "numeric")}
      <div className="pair">
        <div>
          <Form.Label htmlFor={id}>Mostly</Form.Label>
          <Form.Select
            id={id}
            value={design.kind}
            onChange={(e) => change({ kind: e.target.value })}
          >
            {Object.entries(house.kinds).map(([kind, row]) => (
              <option key={kind} value={kind}>
                {row.label}
              </option>
            ))}
          </Form.Select>
        </div>
        {field("colours", "Colours", "numeric")}
      </div>
      <div className="pair">
        {field("width_mm", "Width, mm", "decimal")}
        {field("height_mm", "Height, mm", "decimal")}
      </div>
      <div className="pair">
        {field("trims", "Trims", "numeric")}
        {field("letter_height_mm", "Letters, mm high", "decimal")}
      </div>
    </div>
  );
}
