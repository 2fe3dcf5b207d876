// What the browser's tab is called: the page, or the quote by its number and customer.
import { useEffect } from "react";

export function usePageTitle(title: string) {
  useEffect(() => {
    document.title = title ? `${title} · Clothyard` : "Clothyard";
    return () => {
      document.title = "Clothyard";
    };
  }, [title]);
}
