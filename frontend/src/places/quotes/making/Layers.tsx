// What lies over and under each other in the hoop, as it is built up; and the patches to be drawn.
import { inOrder, text, useDraft, useHouse, useLinePrice, useOpenPlace } from "../../../draft";
import type { Patch } from "../../../parts/StitchPicture";
import { counted } from "../../../parts/format";
import { sizeText } from "../../../parts/units";
import { useUnits } from "../../../parts/useUnits";
import { useOutlines } from "../design/useOutlines";
import { useSteps } from "./useSteps";
import style from "./Layers.module.scss";

/** The patches of the open place, over what tacks them down, else over the middle of the design. */
export function usePatches(widthMm: number, heightMm: number): Patch[] {
  const { steps, done } = useSteps();
  const { outlines } = useOutlines();
  return done.flatMap((told) => {
    const step = steps[told.step];
    const [width, height] = told.piece_mm ?? [];
    if (step?.do !== "lay" || width === undefined || height === undefined) return [];
    const along = outlines.find(({ block }) => block === Number(step.of_block ?? 0));
    const middle = along
      ? [along.x_mm + along.width_mm / 2, along.y_mm + along.height_mm / 2]
      : [widthMm / 2, heightMm / 2];
    return [
      {
        x: (middle[0] ?? 0) - width / 2,
        y: (middle[1] ?? 0) - height / 2,
        width,
        height,
        under: step.side === "under",
        shared: told.per === "hooping",
        outline: along?.points ?? [],
      },
    ];
  });
}

export function Layers() {
  const house = useHouse();
  const { units } = useUnits();
  const { line: asked } = useDraft();
  const { placeAt } = useOpenPlace();
  const { line } = useLinePrice();
  const { steps, stopAt, done } = useSteps();
  const laid = inOrder(steps, stopAt).filter(({ step }) => step.do === "lay");
  if (laid.length === 0) return null;
  const goods = house.goods[asked.goods.class ?? ""];
  const value = (key: string) =>
    line.methods.find((m) => m.key === key && m.placement === placeAt)?.value ?? "";
  const patch = ({ step, index }: (typeof laid)[number]) => {
    const told = done.find((each) => each.step === index);
    const [wide, high] = told?.piece_mm ?? [];
    return {
      name: house.sheet_goods[step.sheet ?? ""]?.label ?? text(step.sheet),
      more: [
        wide !== undefined && high !== undefined && sizeText(wide, high, units),
        told && `${counted(told.count, "piece")} for the line`,
        step.web && `fused with ${house.sheet_goods[step.web]?.label.toLowerCase() ?? step.web}`,
      ],
      kind: "sheet",
    };
  };
  const plain = (name: string | undefined, kind: string) =>
    name ? [{ name, more: [] as (string | false | undefined | null)[], kind }] : [];
  const layers = [
    ...plain(house.toppings[value("topping")]?.label, "topping"),
    ...laid
      .filter(({ step }) => step.side !== "under")
      .reverse()
      .map(patch),
    ...plain(goods?.made ? undefined : goods?.label, "goods"),
    ...plain(house.backings[value("backing")]?.label, "backing"),
    ...plain(house.backings[value("second_backing")]?.label, "backing"),
    ...laid.filter(({ step }) => step.side === "under").map(patch),
  ];
  return (
    <figure className={style["ly-layers"]}>
      <figcaption className="form-label">Layers, from the top</figcaption>
      <ol>
        {layers.map(({ name, more, kind }, n) => (
          <li key={n} data-kind={kind}>
            {name}
            <span className="hint"> {more.filter(Boolean).join(", ")}</span>
          </li>
        ))}
      </ol>
    </figure>
  );
}
