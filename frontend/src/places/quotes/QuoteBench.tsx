// The bench: where a quote is made. Holds the draft and lays the panels out; no arithmetic.
import { useCallback, useMemo, useState } from "react";
import { useStore } from "zustand";
import { useShopHouse, type QuoteView } from "../../api";
import {
  actionsOf,
  BenchProvider,
  SavingProvider,
  createDraftStore,
  openIn,
  usePrice,
  useSaving,
  type Bench,
  type Draft,
  type History,
  type Price,
} from "../../draft";
import { listed } from "../../parts/format";
import { costsHidden } from "../../parts/money";
import { useTell } from "../../parts/toasts";
import { BenchPanels } from "./BenchPanels";
import { EmptyDock } from "./price/EmptyDock";
import { LineTabs } from "./LineTabs";
import { NotPriced } from "./NotPriced";
import { PriceDock } from "./price/PriceDock";
import { QuoteBar } from "./QuoteBar";
import { SwitchPanels, type Side } from "./SwitchPanels";
import { useBenchKeys } from "./useBenchKeys";
import { useUpload } from "./design/useUpload";
import style from "./QuoteBench.module.scss";
import { later } from "../../parts/later";

const Compare = later(() => import("./price/Compare").then((found) => found.Compare));

interface Props {
  frame: React.ReactNode;
  quote: QuoteView;
  start: Draft;
  history: History;
  revision: number;
  apart: string | undefined;
  saved: Draft;
  sending: string | undefined;
  reopen: () => void;
}

/** Which lines and places are priced. */
const shapeOf = ({ estimate }: Price) => estimate?.lines.map((line) => line.places.length).join();

/** What stands over the making: the workings that were opened, one out of the other, or the price. */
export type Opened = string[] | "the price";

export function QuoteBench({ frame, quote, start, history, reopen, ...was }: Props) {
  const [store] = useState(() => createDraftStore(start, history));
  const actions = useMemo(() => actionsOf(store), [store]);
  const editable = quote.state === "draft";
  const house = useShopHouse();
  const [opened, setOpened] = useState<Opened>([]);
  const [comparing, setComparing] = useState(false);
  const [side, setSide] = useState<Side>("piece");
  const lineAt = useStore(store, (state) => openIn(state).lineAt);
  const working = opened !== "the price" && opened.length > 0;
  const wanted = useMemo(() => ({ line: lineAt, working }), [lineAt, working]);
  const saving = useSaving(store, { quote, ...was }, wanted);
  const { whole, newest } = usePrice(quote, saving, wanted);
  // what is priced for the first time is shown at once, its alternatives a moment later
  const panels = shapeOf(whole) === shapeOf(newest) ? whole : newest;
  const upload = useUpload(store, actions);
  const tell = useTell();
  useBenchKeys(store);
  const open = useCallback((to: Opened) => {
    setOpened(to);
    setSide("making");
  }, []);
  const bench: Bench = useMemo(
    () => ({
      quote,
      editable,
      store,
      actions,
      price: panels,
      upload,
      house: house.data,
      show: (id) => !costsHidden && open([id]), // the working tells costs
    }),
    [quote, editable, store, actions, panels, upload, house.data, open],
  );
  const { estimate, lacks } = newest;
  const priced = house.data !== undefined && estimate?.lines[lineAt]?.whole === true;
  const drop = (file: File | undefined) => {
    if (file && editable) upload.send(file);
    if (file && !editable)
      tell(`${quote.number} was sent: ${file.name} is not taken in. Revise the quote first.`);
  };
  return (
    <SavingProvider value={saving}>
      <BenchProvider value={bench}>
        <div
          className={style["bench"]}
          onDragOver={(e) => e.preventDefault()}
          onDrop={(e) => {
            e.preventDefault();
            drop(e.dataTransfer.files[0]);
          }}
        >
          {frame}
          <QuoteBar reopen={reopen}>
            <SwitchPanels side={side} onSide={setSide} />
          </QuoteBar>
          <LineTabs />
          <BenchPanels side={side} failed={!!house.error} opened={opened} onOpened={setOpened} />
          {comparing && priced && <Compare onClose={() => setComparing(false)} />}
          <NotPriced />
          <BenchProvider value={newest === panels ? bench : { ...bench, price: newest }}>
            {priced && editable && lacks.length > 0 && (
              <div className="dock" role="status">
                <p className="my-2">
                  <strong>Not in this price yet:</strong> {listed(lacks)}.
                </p>
              </div>
            )}
            {priced ? (
              <PriceDock
                onPrice={() => open("the price")}
                onCompare={() => {
                  if (lacks.length > 0) tell(`Side by side once you have said ${listed(lacks)}.`);
                  else setComparing(true);
                }}
              />
            ) : (
              <EmptyDock />
            )}
          </BenchProvider>
        </div>
      </BenchProvider>
    </SavingProvider>
  );
}
