// A hoop of the shop's own, whole on one form: its kind, what may be sewn in it, its opening, its
// outside, and the machine that it goes on. What is left out follows from what is said.
import { useMutation } from "@tanstack/react-query";
import { useId, useState } from "react";
import { post, problemOf, useRenew, type Standard } from "../../api";
import { Choose, TextField } from "../../parts/fields";
import { MeasureField } from "../../parts/MeasureField";
import { Told } from "../../parts/Told";
import { goOnAt } from "../../parts/goOnAt";
import { useTell } from "../../parts/toasts";
import { rowsOf } from "./rows";
import style from "./HoopForm.module.scss";

const KINDS: readonly (readonly [string, string])[] = [
  ["screw", "Screw"],
  ["magnetic", "Magnetic"],
  ["clamp", "Clamp"],
  ["cap", "Cap frame"],
  ["border", "Border frame"],
];
/** Beyond the field the opening goes on so far, and the outside beyond the opening. [mm] */
const OPENS: Record<string, number> = { magnetic: 12, border: 10 };
const OUTSIDE = 30;
const EMPTY = { name: "", fieldW: "", fieldH: "", openW: "", openH: "", outW: "", outH: "" };

const more = (held: string, by: number) => {
  const mm = Number(held);
  return held.trim() && Number.isFinite(mm) ? String(mm + by) : "";
};

interface Props {
  all: Standard[];
  button?: string;
}

export function HoopForm({ all, button = "+ another hoop" }: Props) {
  const id = useId();
  const renew = useRenew("standards");
  const tell = useTell();
  const [open, setOpen] = useState(false);
  const [kind, setKind] = useState("screw");
  const [machine, setMachine] = useState("any");
  const [count, setCount] = useState("1");
  const [typed, setTyped] = useState(EMPTY);
  const by = OPENS[kind] ?? 10;
  const opening = [typed.openW || more(typed.fieldW, by), typed.openH || more(typed.fieldH, by)];
  const outside = [
    typed.outW || more(opening[0] ?? "", OUTSIDE),
    typed.outH || more(opening[1] ?? "", OUTSIDE),
  ];
  const size = `${typed.fieldW || "?"} × ${typed.fieldH || "?"}`;
  const usual = kind === "screw" ? size : `${KINDS.find(([key]) => key === kind)?.[1]} ${size}`;
  const close = () => {
    setOpen(false);
    goOnAt("[data-begin=hoop]");
  };
  const add = useMutation({
    mutationFn: () =>
      post("/standard-rows", {
        body: {
          section: "hoops",
          like: "",
          label: typed.name.trim() || usual,
          values: {
            kind,
            machine,
            count: count || "1",
            field_width_mm: typed.fieldW,
            field_height_mm: typed.fieldH,
            opening_width_mm: opening[0],
            opening_height_mm: opening[1],
            outer_width_mm: outside[0],
            outer_height_mm: outside[1],
            ...(kind === "magnetic" && { clearance_mm: 12, takes_mm: 6 }),
            ...(kind === "clamp" && { takes_mm: 6 }),
            ...(kind === "cap" && { turns: false }),
          },
        },
      }),
    onSuccess: async () => {
      await renew();
      tell(`${typed.name.trim() || usual} is added.`);
      setTyped(EMPTY);
      close();
    },
  });
  const problem = problemOf(add.error);
  if (!open)
    return (
      <button
        type="button"
        className="btn btn-plain"
        data-begin="hoop"
        onClick={() => {
          setOpen(true);
          goOnAt("[aria-label='A hoop of your own'] select");
        }}
      >
        {button}
      </button>
    );
  const measure = (key: keyof typeof EMPTY, label: string, placeholder?: string) => (
    <MeasureField
      label={label}
      value={typed[key]}
      placeholder={placeholder}
      onChange={(held) => setTyped({ ...typed, [key]: held })}
    />
  );
  return (
    <form
      aria-label="A hoop of your own"
      className={style["hoop-form"]}
      onSubmit={(event) => {
        event.preventDefault();
        if (!add.isPending) add.mutate();
      }}
      onKeyDown={(event) => event.key === "Escape" && close()}
    >
      <Choose label="Kind" value={kind} onChange={setKind} options={KINDS} />
      <Choose
        label="Goes on"
        value={machine}
        onChange={setMachine}
        options={[
          ["any", "any machine"],
          ...[...rowsOf("machines", all)].map(
            ([key, cells]) => [key, cells.get("label")?.of ?? key] as const,
          ),
        ]}
      />
      {measure("fieldW", "Field wide")}
      {measure("fieldH", "Field high")}
      {measure("openW", "Opening wide", opening[0])}
      {measure("openH", "Opening high", opening[1])}
      {measure("outW", "Outside wide", outside[0])}
      {measure("outH", "Outside high", outside[1])}
      <TextField label="How many" inputMode="numeric" value={count} onChange={setCount} />
      <TextField
        label="Called"
        value={typed.name}
        placeholder={usual}
        onChange={(name) => setTyped({ ...typed, name })}
      />
      <div className={style["does"]}>
        <button type="submit" className="btn btn-primary btn-sm" aria-describedby={`${id}-told`}>
          Add the hoop
        </button>
        <button type="button" className="btn btn-plain" onClick={close}>
          Not now
        </button>
      </div>
      <div id={`${id}-told`}>
        <Told of={problem} />
      </div>
    </form>
  );
}
