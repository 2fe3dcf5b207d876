// What a piece is finished with, besides the usual.
import { useId } from "react";
import Form from "react-bootstrap/Form";
import { useDraft } from "../../../draft";

const FINISHING = [
  ["press", "Press"],
  ["label", "Label or tag"],
  ["soft-cover", "Soft cover inside"],
  ["wash", "Wash the batch"],
  ["pins", "Pin down what is floated"],
  ["soak", "Soak film out"],
] as const;

export function Finishing() {
  const id = useId();
  const { line, actions } = useDraft();
  const chosen = line.finishing ?? [];
  const toggle = (task: string) =>
    actions.line("finishing", (found) => {
      found.finishing = chosen.includes(task)
        ? chosen.filter((each) => each !== task)
        : [...chosen, task];
    });
  return (
    <fieldset>
      <legend className="form-label">Finishing, besides the usual</legend>
      {FINISHING.map(([task, name]) => (
        <Form.Check
          key={task}
          id={`${id}-${task}`}
          label={name}
          checked={chosen.includes(task)}
          onChange={() => toggle(task)}
        />
      ))}
    </fieldset>
  );
}
