// The tables of the workshop and of the shelf: which standards each shows, and what it is about.
export type PlaceName = "workshop" | "shelf";

interface Table {
  id: string;
  name: string;
  about: string;
  /** The standards' sections it holds. */
  sections: string[];
}

interface Place {
  title: string;
  /** Pages of the place that are no tables of standards; they come first. */
  pages?: [to: string, name: string][];
  tables: Table[];
  also: [to: string, name: string][];
}

const ALSO: Place["also"] = [
  ["/workshop/days", "People and days"],
  ["/begin", "Set up step by step"],
  ["/workshop/standards", "All standards"],
  ["/workshop/backups", "Backups"],
];

export const PLACES: Record<PlaceName, Place> = {
  workshop: {
    title: "Workshop",
    also: ALSO,
    tables: [
      {
        id: "rates",
        name: "What I earn",
        about:
          "What an hour of hands, machine and roof costs, typed or worked out of a year; and the margin, floor, rounding, tiers and charges on it.",
        sections: ["rates", "price", "stitch_rates", "rush"],
      },
      {
        id: "machines",
        name: "What I have",
        about: "Speeds, needles, heads and what the machine does by itself; each hoop's own field.",
        sections: ["machines", "hoops", "needles"],
      },
      {
        id: "work",
        name: "What I do",
        about: "Seconds of each task, the first time: practice shortens what is done often.",
        sections: ["tasks", "practice", "events"],
      },
      {
        id: "shop",
        name: "What I am",
        about: "The name on every paper, the units and currency, tax, and what a quote holds by.",
        sections: ["shop", "terms"],
      },
    ],
  },
  shelf: {
    title: "Shelf",
    pages: [
      ["/shelf", "On the shelf"],
      ["/shelf/to-buy", "To buy"],
    ],
    also: [["/workshop/standards", "All standards"]],
    tables: [
      {
        id: "threads",
        name: "Threads and bobbins",
        about:
          "The colours on the shelf, kinds of thread, the put-ups they are bought in, bobbins.",
        sections: ["thread_shelf", "threads", "putups", "bobbins"],
      },
      {
        id: "backings",
        name: "Backing and topping",
        about: "Kinds, and the rolls they are cut from: width, length, price.",
        sections: ["backings", "toppings", "rolls"],
      },
      {
        id: "blanks",
        name: "Blanks and suppliers",
        about: "What you buy, from whom, and what it costs from each number on.",
        sections: ["suppliers"],
      },
      {
        id: "goods",
        name: "Classes of goods",
        about:
          "What the shop knows of each class: thickness, stretch, how it is held, what it risks.",
        sections: ["goods"],
      },
      {
        id: "sheets",
        name: "Sheet goods and hardware",
        about: "For patches and what is made in the hoop.",
        sections: ["sheet_goods", "sheets", "hardware"],
      },
    ],
  },
};
