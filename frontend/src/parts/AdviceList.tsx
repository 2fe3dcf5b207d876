// Advice beside what it is about; a fix is one click, and going against it keeps the reason.
import { useId, useState } from "react";
import { type Advice } from "../api";
import style from "./AdviceList.module.scss";

interface Props {
  advice: Advice[];
  onFix: (patch: Record<string, unknown>[]) => void;
  /** Goes against an advice for a reason; "" heeds it again. */
  onOverrule?: ((advice: Advice, reason: string) => void) | undefined;
}

export function AdviceList({ advice, onFix, onOverrule }: Props) {
  return (
    <>
      {advice.map((item) => (
        <div key={item.code + item.message} className={`advice ${item.level}`} role="note">
          <span className={style["tag"]}>{item.overruled ? "gone against" : item.level}</span>
          <span>
            {item.message}
            {item.overruled && ` Because: ${item.overruled}`}
          </span>
          <span className={style["does"]}>
            {item.apply ? (
              <button
                type="button"
                className="btn btn-plain"
                onClick={() => item.apply && onFix(item.apply)}
              >
                {item.fix}
              </button>
            ) : (
              item.fix
            )}
            {onOverrule && item.against && (
              <Against advice={item} onOverrule={(reason) => onOverrule(item, reason)} />
            )}
            {onOverrule && item.level === "stop" && !item.against && (
              <span className="hint">No reason lifts this one.</span>
            )}
          </span>
        </div>
      ))}
    </>
  );
}

interface AgainstProps {
  advice: Advice;
  onOverrule: (reason: string) => void;
}

function Against({ advice, onOverrule }: AgainstProps) {
  const id = useId();
  const [reason, setReason] = useState<string | null>(null);
  if (advice.overruled)
    return (
      <button type="button" className="btn btn-plain" onClick={() => onOverrule("")}>
        Heed it after all
      </button>
    );
  if (reason === null)
    return (
      <button type="button" className="btn btn-plain" onClick={() => setReason("")}>
        Go against it
      </button>
    );
  return (
    <form
      className={style["against"]}
      onSubmit={(e) => {
        e.preventDefault();
        if (reason.trim()) onOverrule(reason.trim());
        setReason(null);
      }}
    >
      <label htmlFor={id}>Because</label>
      <input
        id={id}
        className="form-control"
        autoFocus
        maxLength={500}
        value={reason}
        onChange={(e) => setReason(e.target.value)}
        onKeyDown={(e) => {
          e.stopPropagation();
          if (e.key === "Escape") setReason(null);
        }}
      />
      <button type="submit" className="btn btn-outline-primary btn-sm" disabled={!reason.trim()}>
        Keep
      </button>
    </form>
  );
}
