// The design: a stitch file dropped or chosen, or a count.
import { useQuery } from "@tanstack/react-query";
import { useId, useRef, useState } from "react";
import Form from "react-bootstrap/Form";
import { api, type House } from "../../api/client";
import { number } from "../../parts/format";
import { MeasureField } from "../../parts/MeasureField";
import { hasNames, NAME_MARK, namesOf, type DraftDesign } from "./draft";
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

const WAYS = { file: "Stitch file", count: "Count", words: "Words" } as const;

export function DesignField({ tools, house, at, upload }: Props) {
  const { design } = tools.placement;
  const base = `lines[${tools.lineAt}].placements[${tools.placeAt}].design`;
  const change = (to: Partial<DraftDesign>) => tools.setPlacement({ design: { ...design, ...to } });
  return (
    <fieldset>
      <legend className="form-label">Design</legend>
      <div className="ways" role="group" aria-label="Where the design comes from">
        {(Object.keys(WAYS) as (keyof typeof WAYS)[]).map((way) => (
          <button
            key={way}
            type="button"
            className={`btn btn-sm ${design.way === way ? "btn-primary" : "btn-outline-primary"}`}
            aria-pressed={design.way === way}
            onClick={() => change({ way })}
          >
            {WAYS[way]}
          </button>
        ))}
      </div>
      {design.way === "file" && <FromFile design={design} change={change} upload={upload} />}
      {design.way === "count" && (
        <FromCount base={base} design={design} change={change} house={house} at={at} />
      )}
      {design.way === "words" && (
        <FromWords
          base={base}
          tools={tools}
          design={design}
          change={change}
          house={house}
          at={at}
        />
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
  base: string;
  house: House;
  at: Props["at"];
}

function FromWords({
  base,
  tools,
  design,
  change,
  house,
  at,
}: FromCountProps & { tools: DraftTools }) {
  const id = useId();
  const error = at(`${base}.text`);
  const names = namesOf(tools.line.names).length;
  const wrong = at(`lines[${tools.lineAt}].names`);
  return (
    <div className="ask-fields">
      <div>
        <Form.Label htmlFor={id}>Words; {NAME_MARK} for each piece's own name</Form.Label>
        <Form.Control
          id={id}
          as="textarea"
          rows={2}
          value={design.text}
          isInvalid={!!error}
          onChange={(e) => change({ text: e.target.value })}
        />
        {error && (
          <div className="invalid-feedback d-block">{`${error.detail} ${error.remedy}`}</div>
        )}
      </div>
      <div className="pair">
        <div>
          <span className="form-label d-block">Of its own</span>
          <button
            type="button"
            className="btn btn-outline-primary w-100"
            onClick={() => change({ text: NAME_MARK })}
          >
            A name each
          </button>
        </div>
        <MeasureField
          label="Capitals high"
          value={design.height_mm}
          placeholder={String(house.words.height_mm)}
          error={at(`${base}.height_mm`)}
          onChange={(height_mm) => change({ height_mm })}
        />
      </div>
      {hasNames(tools.line) && (
        <div>
          <Form.Label htmlFor={`${id}-names`}>
            Names, one a line; an empty line leaves a piece blank
          </Form.Label>
          <Form.Control
            id={`${id}-names`}
            as="textarea"
            rows={4}
            value={tools.line.names}
            isInvalid={!!wrong}
            onChange={(e) => tools.setLine({ names: e.target.value })}
          />
          <div className={wrong ? "invalid-feedback d-block" : "hint"}>
            {wrong
              ? `${wrong.detail} ${wrong.remedy}`
              : `${names} of ${tools.line.quantity || "?"}`}
          </div>
        </div>
      )}
    </div>
  );
}

function FromCount({ base, design, change, house, at }: FromCountProps) {
  const id = useId();
  const length = (key: "width_mm" | "height_mm" | "letter_height_mm", label: string) => (
    <MeasureField
      label={label}
      value={design[key]}
      error={at(`${base}.${key}`)}
      onChange={(held) => change({ [key]: held })}
    />
  );
  const field = (key: "stitches" | "colours" | "trims", label: string) => (
    <Field
      label={label}
      value={design[key]}
      inputMode="numeric"
      placeholder={key === "stitches" ? undefined : "proposed"}
      error={at(`${base}.${key}`)}
      onChange={(text) => change({ [key]: text })}
    />
  );
  return (
    <div className="ask-fields">
      {field("stitches", "Stitches")}
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
        {field("colours", "Colours")}
      </div>
      <div className="pair">
        {length("width_mm", "Width")}
        {length("height_mm", "Height")}
      </div>
      <div className="pair">
        {field("trims", "Trims")}
        {length("letter_height_mm", "Letters high")}
      </div>
    </div>
  );
}
