// Where a shop opens: known before the pages of its first hour are fetched.
import { Navigate } from "react-router";
import { Loading } from "./parts/Loading";
import { costsHidden } from "./parts/money";
import { useBeginning } from "./api";

/** Where a shop opens: on the first hour while it is empty, else on its quotes. */
export function OpensOn({ children }: { children: React.ReactNode }) {
  const { beginning, isPending } = useBeginning();
  if (costsHidden) return children;
  if (isPending) return <Loading what="The shop" />;
  return beginning?.fresh ? <Navigate to="/begin" replace /> : children;
}
