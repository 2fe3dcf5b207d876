// The order whose price shows what a change does: with the row that is being changed in it.
import { type Standard } from "../../api";
import { textOf } from "./standard";

interface Line {
  goods: Record<string, string>;
  quantity: number;
  placements: {
    position?: string;
    design: { stitches: number; colours: number; width_mm: number; height_mm: number };
    methods?: Record<string, string>;
  }[];
}

export interface SampleJob {
  format: string;
  lines: [Line];
}

export interface Sample {
  name: string;
  job: SampleJob;
}

const DESIGN = { stitches: 8200, colours: 3, width_mm: 85, height_mm: 60 };

function sample(name: string, line: Partial<Line>): Sample {
  const usual: Line = {
    goods: { class: "pique-polo", unit_cost: "6.40" },
    quantity: 24,
    placements: [{ position: "left-chest", design: DESIGN }],
  };
  return {
    name: `${name}, 8,200 stitches`,
    job: { format: "clothyard-job/1", lines: [{ ...usual, ...line }] },
  };
}

export const POLOS = sample("24 polos", {});

/** The same design on other goods. */
export function sampleOf(name: string, goods: Record<string, string>): Sample {
  return sample(name, { goods, placements: [{ design: DESIGN }] });
}

/** 24 of a blank of the shelf, in its usual place. */
export const sampleOfBlank = (row: string, goods: string, label: string) =>
  sample(`24 × ${label}`, {
    goods: { class: goods, blank: row },
    placements: [{ design: DESIGN }],
  });

/** Which method of a placement a table's rows are chosen by. */
const CHOSEN_BY: Record<string, string> = {
  machines: "machine",
  threads: "thread",
  backings: "backing",
  toppings: "topping",
  hoops: "hoop",
};

/** The sample that a standard has a part in; the polos for what has a part in all. */
export function sampleFor(standard: Standard, all: Standard[]): Sample {
  const [section = "", row = ""] = standard.key.split(".");
  if (section === "goods")
    return sample(`24 × ${standard.of}`, {
      goods: { class: row, unit_cost: "6.40" },
      placements: [{ design: DESIGN }],
    });
  if (section === "rolls") {
    const material = textOf(all.find((s) => s.key === `rolls.${row}.material`)?.value);
    const table = ["backings", "toppings"].find((t) =>
      all.some((s) => s.key === `${t}.${material}.label`),
    );
    return table ? chosen(table, material, standard.of) : POLOS;
  }
  return section in CHOSEN_BY ? chosen(section, row, standard.of) : POLOS;
}

function chosen(section: string, row: string, label: string): Sample {
  const methods = { [CHOSEN_BY[section] ?? ""]: row };
  return sample(`24 polos, ${label.toLowerCase()}`, {
    placements: [{ position: "left-chest", design: DESIGN, methods }],
  });
}
