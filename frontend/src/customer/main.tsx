// The customer's page: its own small bundle, by link alone.
import "@fontsource-variable/atkinson-hyperlegible-next/wght.css";
import "@fontsource-variable/bitter/wght.css";
import "../look/look.scss";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { CustomerPage } from "./CustomerPage";

const root = document.getElementById("root");
const token = window.location.pathname.split("/")[2] ?? "";
if (root)
  createRoot(root).render(
    <StrictMode>
      <CustomerPage token={token} />
    </StrictMode>,
  );
