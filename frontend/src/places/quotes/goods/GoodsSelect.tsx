// The goods: blanks of the shelf first, then any class.
import Form from "react-bootstrap/Form";
import { useAt, useDraft, useHouse } from "../../../draft";
import { Told } from "../../../parts/Told";
import { BLANK, takeGoods, chosenGoods } from "./goods";

export function GoodsSelect({ id }: { id: string }) {
  const at = useAt();
  const house = useHouse();
  const { line, lineAt, actions } = useDraft();
  const base = `lines[${lineAt}].goods`;
  const blanks = Object.entries(house.blanks);
  const gone = line.goods.blank && !house.blanks[line.goods.blank] ? line.goods.blank : null;
  const problem = at(`${base}.class`) ?? at(`${base}.blank`);
  const classes = Object.entries(house.goods).map(([key, row]) => (
    <option key={key} value={key}>
      {row.label}
    </option>
  ));
  return (
    <>
      <Form.Select
        id={id}
        data-begin="goods"
        autoFocus
        value={chosenGoods(line)}
        isInvalid={!!problem}
        aria-invalid={!!problem}
        onChange={(e) =>
          actions.line("goods.class", (found) => {
            takeGoods(found, e.target.value, house);
          })
        }
      >
        <option value="">Choose</option>
        {gone && <option value={BLANK + gone}>{gone}, no longer on the shelf</option>}
        {blanks.length > 0 ? (
          <>
            <optgroup label="Blanks on your shelf">
              {blanks.map(([key, row]) => (
                <option key={key} value={BLANK + key}>
                  {row.label}
                </option>
              ))}
            </optgroup>
            <optgroup label="Any other">{classes}</optgroup>
          </>
        ) : (
          classes
        )}
      </Form.Select>
      <Told of={problem}>{`$ $`}</Told>
    </>
  );
}
