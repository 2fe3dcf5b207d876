// A stitch file: dropped, chosen, or one that is here already.
import { useQuery } from "@tanstack/react-query";
import { useId, useRef, useState } from "react";
import Form from "react-bootstrap/Form";
import { api } from "../../api/client";
import { text, useBench, useOpenPlace } from "../../draft";
import { number } from "../../parts/format";
import style from "./DesignFile.module.scss";

export function DesignFile() {
  const { upload } = useBench();
  const picker = useRef<HTMLInputElement>(null);
  const [over, setOver] = useState(false);
  const about = useQuery({ queryKey: ["about"], queryFn: api.about });
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
    </>
  );
}

function KeptFiles() {
  const id = useId();
  const { placement, actions } = useOpenPlace();
  const kept = useQuery({ queryKey: ["designs"], queryFn: api.designs });
  if (!kept.data || kept.data.length === 0) return null;
  return (
    <div className="mt-2">
      <Form.Label htmlFor={id}>Or one that is here</Form.Label>
      <Form.Select
        id={id}
        value={text(placement.design.sha256)}
        onChange={(e) => {
          const sha256 = e.target.value;
          actions.placement("design.sha256", (found) => void (found.design.sha256 = sha256));
        }}
      >
        <option value="">Choose</option>
        {kept.data.map((item) => (
          <option key={item.sha256} value={item.sha256}>
            {`${item.name}, ${number(item.inspection.stitches)} stitches`}
          </option>
        ))}
      </Form.Select>
    </div>
  );
}
