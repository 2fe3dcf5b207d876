// An item that is not on the list yet: chosen of what the shop knows, then opened to book it.
import { useId, useState } from "react";
import Form from "react-bootstrap/Form";
import { useNavigate } from "react-router";
import { useShopHouse } from "../../api";
import { detailName, KINDS, shelved } from "./words";
import { itemAt } from "../../parts/stock";
import style from "./Shelf.module.scss";

export function BookNew() {
  const id = useId();
  const go = useNavigate();
  const house = useShopHouse().data;
  const [kind, setKind] = useState("thread");
  const [thing, setThing] = useState("");
  const [detail, setDetail] = useState("");
  if (!house) return null;
  const things = shelved(house, kind);
  const chosen = things.find(([key]) => key === thing) ?? things[0];
  const details = chosen?.[2] ?? [];
  const one = details.includes(detail) ? detail : (details[0] ?? "");
  return (
    <form
      className={style["sh-new"]}
      aria-label="Book what is not on the list"
      onSubmit={(event) => {
        event.preventDefault();
        if (chosen) void go(itemAt(`${kind}|${chosen[0]}|${one}`));
      }}
    >
      <label htmlFor={`${id}-k`}>Not on the list:</label>
      <Form.Select id={`${id}-k`} value={kind} onChange={(e) => setKind(e.target.value)}>
        {KINDS.filter(([key]) => key !== "offcut").map(([key, name]) => (
          <option key={key} value={key}>
            {name}
          </option>
        ))}
      </Form.Select>
      <Form.Select
        aria-label="Which"
        value={chosen?.[0] ?? ""}
        onChange={(e) => setThing(e.target.value)}
      >
        {things.map(([key, label]) => (
          <option key={key} value={key}>
            {label}
          </option>
        ))}
      </Form.Select>
      {details.length > 0 && (
        <Form.Select
          aria-label="Colour, or size and colour"
          value={one}
          onChange={(e) => setDetail(e.target.value)}
        >
          {details.map((each) => (
            <option key={each} value={each}>
              {detailName(house, kind, each) || "plain"}
            </option>
          ))}
        </Form.Select>
      )}
      <button type="submit" className="btn btn-outline-primary" disabled={!chosen}>
        Open it
      </button>
    </form>
  );
}
