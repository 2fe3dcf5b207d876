// How the order is priced, and at which margin.
import { Choose } from "../../../parts/fields";
import { useId, useState } from "react";
import Form from "react-bootstrap/Form";
import { text, useBench, useDraft, useHouse } from "../../../draft";
import { money, percent } from "../../../parts/format";
import { Field } from "../Field";
import { PercentField } from "./PercentField";

export function Pricing() {
  const { job, line, actions } = useDraft();
  const { price } = useHouse();
  return (
    <>
      <div className="pair">
        <Choose
          label="Priced by"
          value={job.price_method ?? price.method}
          onChange={(typed) => {
            const way = typed;
            actions.job("price_method", (found) => void (found.price_method = way ?? null));
          }}
          options={[
            ["margin", "Margin"],
            ["stitch-rate", "Stitch rate"],
            ["hour-rate", "Hour rate"],
          ]}
        />
        <PercentField
          label="Margin, %"
          value={text(job.margin)}
          placeholder={String(Number((Number(price.margin) * 100).toFixed(4)))}
          where="margin"
          onChange={(margin) => actions.job("margin", (found) => void (found.margin = margin))}
        />
      </div>
      <div className="pair">
        <Tiers />
        <Choose
          label="Between tiers"
          value={job.tier_mode ?? price.tier_mode}
          options={[
            ["smooth", "the price glides"],
            ["stepped", "it steps"],
          ]}
          onChange={(mode) =>
            actions.job("tier_mode", (found) => void (found.tier_mode = mode as "smooth"))
          }
        />
      </div>
      <Choose
        label="Digitising"
        value={line.digitising ?? ""}
        options={[
          ["", "as proposed"],
          ["none", "none to pay"],
          ["own", "own time"],
          ["supplier", "a supplier's price"],
        ]}
        onChange={(by) =>
          actions.line("digitising", (found) => void (found.digitising = (by || null) as "own"))
        }
      />
      <SurePrice />
    </>
  );
}

/** The quantities that the customer is shown a price for. */
function Tiers() {
  const { job, actions } = useDraft();
  const { price } = useHouse();
  const [typing, setTyping] = useState<string | null>(null);
  return (
    <Field
      label="Tiers"
      value={typing ?? (job.tiers ?? []).join(", ")}
      placeholder={price.tiers.join(", ")}
      where="tiers"
      onBlur={() => setTyping(null)}
      onChange={(typed) => {
        setTyping(typed);
        const tiers = typed.split(/[\s,;]+/).filter(Boolean);
        actions.job(
          "tiers",
          (found) => void (found.tiers = (tiers.length ? tiers : null) as never),
        );
      }}
    />
  );
}

/** A price that covers what the order comes to in 80 of 100 cases. */
function SurePrice() {
  const id = useId();
  const { job, lineAt, actions } = useDraft();
  const { price } = useHouse();
  const { price: priced } = useBench();
  const own = job.house?.["price"] as { floor?: string } | undefined;
  const sure = (own?.floor ?? price.floor) === "sure";
  const found = priced.estimate?.lines[lineAt]?.sure;
  return (
    <div>
      <Form.Check
        id={id}
        label="Price it to be 80% sure"
        checked={sure}
        disabled={price.floor === "sure"}
        onChange={(e) => {
          const wanted = e.target.checked;
          actions.job("house.price.floor", (draft) => {
            const { price: kept, ...rest } = draft.house ?? {};
            const { floor: _, ...others } = (kept ?? {}) as Record<string, unknown>;
            const prices = wanted ? { ...others, floor: "sure" } : others;
            const house = Object.keys(prices).length > 0 ? { ...rest, price: prices } : rest;
            if (Object.keys(house).length > 0) draft.house = house;
            else delete draft.house;
          });
        }}
      />
      {found && (
        <p className="hint mb-0">
          In 80 of 100 cases this line costs {money(found.p10, job.currency ?? "GBP")} to{" "}
          {money(found.p90, job.currency ?? "GBP")}; chance of loss{" "}
          {Number(found.loss_chance) < 0.01 ? "under 1%" : percent(found.loss_chance)}.{" "}
          {found.terms.length > 0 &&
            `It hangs on ${found.terms.map((t) => `${t.name} ±${t.plus_minus}`).join(", ")}.`}
        </p>
      )}
    </div>
  );
}
