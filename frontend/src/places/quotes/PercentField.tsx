// A share, typed of a hundred: the sign is the field's own, the core reads the number.
import { useState } from "react";
import { Field } from "./Field";

interface Props {
  label: string;
  /** Held: "35 %", or a kept share of one. */
  value: string;
  onChange: (held: string) => void;
  where: string;
  placeholder?: string | undefined;
}

/** What a field shows of a held share: "35 %" and "0.35" both as 35. */
export function shownPercent(held: string): string {
  if (held.trim().endsWith("%")) return held.trim().slice(0, -1).trim();
  const share = Number(held);
  return held.trim() && Number.isFinite(share) ? String(Number((share * 100).toFixed(4))) : held;
}

export const heldPercent = (typed: string): string =>
  typed.trim() === "" || typed.trim().endsWith("%") ? typed.trim() : `${typed.trim()} %`;

export function PercentField({ label, value, onChange, where, placeholder }: Props) {
  const [typing, setTyping] = useState<{ held: string; typed: string } | null>(null);
  const shown = typing && typing.held === value ? typing.typed : shownPercent(value);
  return (
    <Field
      label={label}
      value={shown}
      placeholder={placeholder}
      inputMode="decimal"
      where={where}
      onChange={(typed) => {
        const held = heldPercent(typed);
        setTyping({ held, typed });
        onChange(held);
      }}
    />
  );
}
