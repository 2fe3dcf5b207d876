// A dialog with a name: what it is made of is fetched once the page rests.
import type { DialogProps } from "./DialogBox";
import { later } from "./later";

export const Dialog = later<DialogProps>(() =>
  import("./DialogBox").then(({ DialogBox }) => DialogBox),
);
