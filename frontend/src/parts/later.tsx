// What is opened by a press is fetched once the page rests: it is there when it is pressed, even
// when the server is away by then, and the first view does not wait for it.
import { lazy, Suspense, type ComponentType } from "react";

const RESTS_MS = 1500;

function whenAtRest(load: () => Promise<unknown>) {
  window.setTimeout(() => void load().catch(() => undefined), RESTS_MS);
}

export function later<P extends object>(load: () => Promise<ComponentType<P>>) {
  const Found = lazy(() => load().then((found) => ({ default: found })));
  if (typeof window !== "undefined") whenAtRest(load);
  return function Later(props: P) {
    return (
      <Suspense fallback={null}>
        <Found {...(props as P & object)} />
      </Suspense>
    );
  };
}
