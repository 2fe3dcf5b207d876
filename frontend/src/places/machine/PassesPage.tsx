// An order's passes, to choose the one that is sewn; where there is one only it opens by itself.
import { useQuery } from "@tanstack/react-query";
import { Link, Navigate, useParams } from "react-router";
import { get, keys } from "../../api";
import { Loading } from "../../parts/Loading";
import { Told } from "../../parts/Told";
import { usePageTitle } from "../../parts/usePageTitle";

export function PassesPage() {
  const order = Number(useParams()["id"]);
  usePageTitle("At the machine");
  const found = useQuery({
    queryKey: keys.passes(order),
    queryFn: () => get("/orders/{order_id}/passes", { path: { order_id: order } }),
    staleTime: 0,
  });
  const at = (pass: string) => `/orders/${order}/run/${encodeURIComponent(pass)}`;
  const only = found.data?.length === 1 ? found.data[0] : undefined;
  if (only) return <Navigate to={at(only.pass_id)} replace />;
  return (
    <main className="standards">
      <h1 tabIndex={-1}>At the machine: which pass?</h1>
      <Told of={found.error} page />
      {found.isPending && <Loading what="The passes" />}
      <ul className="list-unstyled">
        {found.data?.map((row) => (
          <li key={row.pass_id} className="mb-2">
            <Link className="btn btn-outline-primary" to={at(row.pass_id)}>
              {row.label}: {row.done} of {row.pieces} sewn{row.logged ? ", in the log" : ""}
            </Link>
          </li>
        ))}
      </ul>
      <Link to={`/orders/${order}`}>The order</Link>
    </main>
  );
}
