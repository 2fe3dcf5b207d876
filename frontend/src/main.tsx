import "@fontsource-variable/atkinson-hyperlegible-next/wght.css";
import "@fontsource-variable/bitter/wght.css";
import "./look/look.scss";
import { QueryClient, QueryClientProvider, useQuery } from "@tanstack/react-query";
import { Fragment, lazy, StrictMode, Suspense, useSyncExternalStore } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter, Navigate, Outlet, Route, Routes } from "react-router";
import { api } from "./api/client";
import { clearOldDrafts } from "./draft";
import { localeNow, onLocale } from "./parts/format";
import { Frame } from "./parts/Frame";
import { costsHidden } from "./parts/money";
import { Boundary, Toasts } from "./parts/toasts";
import { BeginPage, OpensOn } from "./places/begin";
import { CustomerPage, CustomersList } from "./places/customers";
import { OrderPage, OrdersList, PlanPage, RunSheetPage } from "./places/orders";
import { LearnPage, LogPage, LogRowPage, PaysPage } from "./places/log";
import { MachinePage, PassesPage } from "./places/machine";
import { Outbox, QuotePage, QuotesList } from "./places/quotes";
import { TodayPage } from "./places/today";
import { ItemPage, ShelfPage, ToBuyPage } from "./places/shelf";
import { BackupsPage, DaysPage, StandardsPage, TablePage } from "./places/workshop";

const PartsPage = lazy(() => import("./places/parts/PartsPage"));

/** What stands where rates and prices would, while a customer looks at the screen. */
function OutOfSight() {
  return (
    <main className="standards">
      <h1>Out of sight</h1>
      <p>Costs are hidden, and this page is for the shop alone. Show them (Alt M) to open it.</p>
    </main>
  );
}

/** What is shown is written anew when the shop's figures and dates are to be written otherwise. */
function InLocale({ children }: { children: React.ReactNode }) {
  useQuery({ queryKey: ["house"], queryFn: api.house });
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
                  <Route path="/quotes/:id" element={<QuotePage frame={<Frame />} />} />
                  <Route
                    element={
                      <>
                        <Frame />
                        <Outlet />
                      </>
                    }
                  >
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
                    <Route
                      path="/begin/:step?"
                      element={costsHidden ? <OutOfSight /> : <BeginPage />}
                    />
                    <Route
                      path="/parts"
                      element={
                        <Suspense>
                          <PartsPage />
                        </Suspense>
                      }
                    />
                    <Route path="/outbox" element={<Outbox />} />
                    <Route path="/orders" element={costsHidden ? <OutOfSight /> : <OrdersList />} />
                    <Route
                      path="/orders/plan"
                      element={costsHidden ? <OutOfSight /> : <PlanPage />}
                    />
                    <Route path="/orders/:id/run-sheet" element={<RunSheetPage />} />
                    <Route path="/orders/:id/run" element={<PassesPage />} />
                    <Route path="/orders/:id/run/:pass" element={<MachinePage />} />
                    <Route path="/log" element={costsHidden ? <OutOfSight /> : <LogPage />} />
                    <Route
                      path="/log/learn"
                      element={costsHidden ? <OutOfSight /> : <LearnPage />}
                    />
                    <Route path="/log/pays" element={costsHidden ? <OutOfSight /> : <PaysPage />} />
                    <Route
                      path="/log/:row"
                      element={costsHidden ? <OutOfSight /> : <LogRowPage />}
                    />
                    <Route
                      path="/orders/:id"
                      element={costsHidden ? <OutOfSight /> : <OrderPage />}
                    />
                    <Route
                      path="/customers"
                      element={costsHidden ? <OutOfSight /> : <CustomersList />}
                    />
                    <Route
                      path="/customers/:id"
                      element={costsHidden ? <OutOfSight /> : <CustomerPage />}
                    />
                    <Route
                      path="/workshop/standards"
                      element={costsHidden ? <OutOfSight /> : <StandardsPage />}
                    />
                    <Route path="/workshop/backups" element={<BackupsPage />} />
                    <Route
                      path="/workshop/days"
                      element={costsHidden ? <OutOfSight /> : <DaysPage />}
                    />
                    <Route
                      path="/workshop/:table?"
                      element={costsHidden ? <OutOfSight /> : <TablePage place="workshop" />}
                    />
                    <Route path="/shelf" element={costsHidden ? <OutOfSight /> : <ShelfPage />} />
                    <Route
                      path="/shelf/item"
                      element={costsHidden ? <OutOfSight /> : <ItemPage />}
                    />
                    <Route
                      path="/shelf/to-buy"
                      element={costsHidden ? <OutOfSight /> : <ToBuyPage />}
                    />
                    <Route
                      path="/shelf/:table"
                      element={costsHidden ? <OutOfSight /> : <TablePage place="shelf" />}
                    />
                  </Route>
                  <Route path="*" element={<Navigate to="/" replace />} />
                </Routes>
              </InLocale>
            </BrowserRouter>
          </Toasts>
        </Boundary>
      </QueryClientProvider>
    </StrictMode>,
  );
}
