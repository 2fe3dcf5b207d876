import "@fontsource-variable/atkinson-hyperlegible-next/wght.css";
import "@fontsource-variable/bitter/wght.css";
import "./look/look.scss";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter, Navigate, Route, Routes } from "react-router";
import { Frame } from "./parts/Frame";
import { QuoteBench } from "./places/quotes";
import { StandardsPage } from "./places/workshop";

const queries = new QueryClient({
  defaultOptions: { queries: { refetchOnWindowFocus: false, staleTime: 30_000, retry: false } },
});

const root = document.getElementById("root");
if (root) {
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={queries}>
        <BrowserRouter>
          <Routes>
            <Route path="/quotes/new" element={<QuoteBench frame={<Frame />} />} />
            <Route
              path="/workshop/standards"
              element={
                <>
                  <Frame />
                  <StandardsPage />
                </>
              }
            />
            <Route path="*" element={<Navigate to="/quotes/new" replace />} />
          </Routes>
        </BrowserRouter>
      </QueryClientProvider>
    </StrictMode>,
  );
}
