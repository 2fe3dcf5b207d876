// Advice beside what it is about; a fix is one click.
import type { Advice } from "../api/client";

interface Props {
  advice: Advice[];
  onFix: (patch: Record<string, unknown>[]) => void;
}

export function AdviceList({ advice, onFix }: Props) {
  return (
    <>
      {advice.map((item) => (
        <div key={item.code + item.message} className={`advice ${item.level}`} role="note">
          <span className="tag">{item.overruled ? "gone against" : item.level}</span>
          <span>
            {item.message}
            {item.overruled && ` Because: ${item.overruled}`}
          </span>
          <span className="does">
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
          </span>
        </div>
      ))}
    </>
  );
}
