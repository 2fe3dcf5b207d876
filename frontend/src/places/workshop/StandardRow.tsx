// One standard on the page of all: changed, refused beside it, reset.
import { useMutation } from "@tanstack/react-query";
import { useId, useState } from "react";
import Form from "react-bootstrap/Form";
import { del, problemOf, put, type Standard } from "../../api";
import { Told } from "../../parts/Told";
import { words } from "../../parts/format";
import { useTell } from "../../parts/toasts";
import { saidOf, sentOf, textOf, unitOf } from "./standard";

export function StandardRow({
  standard,
  sign,
  renew,
}: {
  standard: Standard;
  /** Of the shop's currency. */
  sign: string;
  renew: () => Promise<void>;
}) {
  const [text, setText] = useState(textOf(standard.value, standard));
  const name = `${standard.of ? `${standard.of}: ` : ""}${words(standard.name)}`;
  const id = useId();
  const tell = useTell();
  const write = (value: unknown) =>
    put("/standards/{key}", { path: { key: standard.key }, body: { value } }).then(renew);
  const back = (to: unknown, was: boolean) => ({
    label: "Undo",
    does: () =>
      void (was ? write(to) : del("/standards/{key}", { path: { key: standard.key } }).then(renew)),
  });
  const change = useMutation({
    mutationFn: (value: unknown) =>
      put("/standards/{key}", { path: { key: standard.key }, body: { value } }),
    onSuccess: async () => {
      await renew();
      const undo = back(standard.value, standard.changed);
      const was = saidOf(textOf(standard.value, standard), standard);
      tell(`${name}: ${was} became ${saidOf(text, standard)}.`, undo);
    },
  });
  const reset = useMutation({
    mutationFn: () => del("/standards/{key}", { path: { key: standard.key } }),
    onSuccess: async () => {
      await renew();
      tell(`${name} is the default again.`, back(standard.value, true));
    },
  });
  const keep = (value: string) => {
    setText(value);
    if (value === textOf(standard.value, standard)) change.reset();
    else if (change.isPending && value === text)
      return; // Enter sent it already
    else change.mutate(sentOf(value, standard));
  };
  const problem = problemOf(change.error);
  const options = standard.choices;
  const [low, high] = [standard.low, standard.high];
  const range =
    low !== null && high !== null ? `${textOf(low, standard)} to ${textOf(high, standard)}` : "";
  return (
    <div className={`standard${standard.changed ? " changed" : ""}`}>
      <label htmlFor={id}>
        {name}
        {standard.changed && (
          <span className="d-block hint">default {textOf(standard.default, standard)}</span>
        )}
      </label>
      <div>
        {options.length > 0 ? (
          <Form.Select
            id={id}
            value={text}
            isInvalid={!!problem}
            aria-invalid={!!problem}
            onChange={(e) => keep(e.target.value)}
          >
            {options.map((option, n) => (
              <option key={option} value={option}>
                {standard.choice_names[n] ?? option}
              </option>
            ))}
          </Form.Select>
        ) : (
          <Form.Control
            id={id}
            value={text}
            isInvalid={!!problem}
            aria-invalid={!!problem}
            onChange={(e) => setText(e.target.value)}
            onBlur={() => keep(text.trim())}
            onKeyDown={(e) => {
              if (e.key === "Enter") keep(text.trim());
              if (e.key === "Escape") keep(textOf(standard.value, standard));
            }}
          />
        )}
        <Told of={problem} />
      </div>
      <span className="hint">
        {unitOf(standard, sign)} {range && <span className="d-block">{range}</span>}
      </span>
      <span className="hint about">
        {standard.reason} ({standard.basis})
      </span>
      <span>
        {standard.changed && !standard.added && (
          <button type="button" className="btn btn-plain" onClick={() => reset.mutate()}>
            Reset
          </button>
        )}
      </span>
    </div>
  );
}
