import "@fontsource-variable/atkinson-hyperlegible-next/wght.css";
import "@fontsource-variable/bitter/wght.css";
import "./look/look.scss";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { Fragment, lazy, StrictMode, Suspense, useSyncExternalStore } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter, Link, Navigate, Outlet, Route, Routes } from "react-router";
import { useShopHouse } from "./api";
import { clearOldDrafts } from "./draft";
import { localeNow, onLocale } from "./parts/format";
import { Frame } from "./parts/Frame";
import { costsHidden } from "./parts/money";
import { Boundary, Toasts } from "./parts/toasts";
import { Loading } from "./parts/Loading";
import { OpensOn } from "./OpensOn";
import { Outbox, QuotePage, QuotesList } from "./places/quotes";

/** A page of a place's door, fetched when it is opened. */
function page<K extends string>(door: () => Promise<Record<K, React.ComponentType>>, name: K) {
  return lazy(() => door().then((found) => ({ default: found[name] })));
}

const begin = () => import("./places/begin");
const customers = () => import("./places/customers");
const log = () => import("./places/log");
const machine = () => import("./places/machine");
const orders = () => import("./places/orders");
const shelf = () => import("./places/shelf");
const workshop = () => import("./places/workshop");

const BeginPage = page(begin, "BeginPage");
const CustomersList = page(customers, "CustomersList");
const CustomerPage = page(customers, "CustomerPage");
const LogPage = page(log, "LogPage");
const LogRowPage = page(log, "LogRowPage");
const LearnPage = page(log, "LearnPage");
const PaysPage = page(log, "PaysPage");
const MachinePage = page(machine, "MachinePage");
const PassesPage = page(machine, "PassesPage");
const OrdersList = page(orders, "OrdersList");
const OrderPage = page(orders, "OrderPage");
const PlanPage = page(orders, "PlanPage");
const RunSheetPage = page(orders, "RunSheetPage");
const ShelfPage = page(shelf, "ShelfPage");
const ItemPage = page(shelf, "ItemPage");
const ToBuyPage = page(shelf, "ToBuyPage");
const TodayPage = page(() => import("./places/today"), "TodayPage");
const BackupsPage = page(workshop, "BackupsPage");
const DaysPage = page(workshop, "DaysPage");
const StandardsPage = page(workshop, "StandardsPage");
const TablePage = lazy(() => workshop().then((found) => ({ default: found.TablePage })));
const PartsPage = page(() => import("./places/parts"), "PartsPage");

/** What stands where rates and prices would, while a customer looks at the screen. */
function OutOfSight() {
  return (
    <main className="standards">
      <h1>Out of sight</h1>
      <p>Costs are hidden, and this page is for the shop alone. Show them (Alt M) to open it.</p>
    </main>
  );
}

/** Pages for the shop alone: out of sight while costs are hidden. */
function ForTheShop() {
  return costsHidden ? <OutOfSight /> : <Outlet />;
}

/** Every page under the same head; what it is made of is fetched as it is opened. */
function Framed() {
  return (
    <>
      <Frame />
      <Suspense fallback={<Loading what="The page" />}>
        <Outlet />
      </Suspense>
    </>
  );
}

/** An address that leads nowhere says so. */
function NoSuchPage() {
  return (
    <main className="standards">
      <h1>There is no such page</h1>
      <p>
        Nothing is at {window.location.pathname}. It may have been moved, or typed a little wrong.
      </p>
      <p>
        <Link to="/">Today</Link> · <Link to="/quotes">Quotes</Link> ·{" "}
        <Link to="/orders">Orders</Link>
      </p>
    </main>
  );
}

/** What is shown is written anew when the shop's figures and dates are to be written otherwise. */
function InLocale({ children }: { children: React.ReactNode }) {
  useShopHouse();
  const locale = useSyncExternalStore(onLocale, localeNow);
  return <Fragment key={locale}>{children}</Fragment>;
}

const queries = new QueryClient({
  defaultOptions: { queries: { refetchOnWindowFocus: false, staleTime: 30_000, retry: false } },
});

window.setTimeout(() => void clearOldDrafts(), 5000); // once the page is at rest

const root = document.getElementById("root");
if (root) {
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={queries}>
        <Boundary>
          <Toasts>
            <BrowserRouter>
              <InLocale>
                <Routes>
                  <Route
                    path="/quotes/:id"
                    element={
                      <Suspense fallback={<Loading what="The quote" />}>
                        <QuotePage frame={<Frame />} />
                      </Suspense>
                    }
                  />
                  <Route element={<Framed />}>
                    <Route
                      path="/"
                      element={
                        costsHidden ? (
                          <Navigate to="/quotes" replace />
                        ) : (
                          <OpensOn>
                            <TodayPage />
                          </OpensOn>
                        )
                      }
                    />
                    <Route
                      path="/quotes"
                      element={
                        <OpensOn>
                          <QuotesList />
                        </OpensOn>
                      }
                    />
                    <Route path="/outbox" element={<Outbox />} />
                    <Route path="/parts" element={<PartsPage />} />
                    <Route element={<ForTheShop />}>
                      <Route path="/begin/:step?" element={<BeginPage />} />
                      <Route path="/orders" element={<OrdersList />} />
                      <Route path="/orders/plan" element={<PlanPage />} />
                      <Route path="/orders/:id" element={<OrderPage />} />
                      <Route path="/orders/:id/run-sheet" element={<RunSheetPage />} />
                      <Route path="/orders/:id/run" element={<PassesPage />} />
                      <Route path="/orders/:id/run/:pass" element={<MachinePage />} />
                      <Route path="/log" element={<LogPage />} />
                      <Route path="/log/learn" element={<LearnPage />} />
                      <Route path="/log/pays" element={<PaysPage />} />
                      <Route path="/log/:row" element={<LogRowPage />} />
                      <Route path="/customers" element={<CustomersList />} />
                      <Route path="/customers/:id" element={<CustomerPage />} />
                      <Route path="/workshop/standards" element={<StandardsPage />} />
                      <Route path="/workshop/backups" element={<BackupsPage />} />
                      <Route path="/workshop/days" element={<DaysPage />} />
                      <Route path="/workshop/:table?" element={<TablePage place="workshop" />} />
                      <Route path="/shelf" element={<ShelfPage />} />
                      <Route path="/shelf/item" element={<ItemPage />} />
                      <Route path="/shelf/to-buy" element={<ToBuyPage />} />
                      <Route path="/shelf/:table" element={<TablePage place="shelf" />} />
                    </Route>
                    <Route path="*" element={<NoSuchPage />} />
                  </Route>
                </Routes>
              </InLocale>
            </BrowserRouter>
          </Toasts>
        </Boundary>
      </QueryClientProvider>
    </StrictMode>,
  );
}
