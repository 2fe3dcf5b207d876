// A share, typed of a hundred: the sign is the field's own, the core reads the number.
import { useState } from "react";
import { heldPercent, shownPercent } from "../../../parts/percent";
import { Field } from "../Field";

interface Props {
  label: string;
  /** Held: "35 %", or a kept share of one. */
  value: string;
  onChange: (held: string) => void;
  where: string;
  placeholder?: string | undefined;
}

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
