// @vitest-environment jsdom
// Two presses in a row on a list: the second is made of the address as it is by then.
import { act, cleanup, renderHook } from "@testing-library/react";
import { BrowserRouter } from "react-router";
import { afterEach, beforeEach, expect, test } from "vitest";
import { useLook } from "./useLook";

beforeEach(() => {
  sessionStorage.clear();
  window.history.replaceState(null, "", "/orders");
});
afterEach(cleanup);

const shown = () =>
  renderHook(() => useLook("orders", "promise"), {
    wrapper: ({ children }) => <BrowserRouter>{children}</BrowserRouter>,
  });

test("a filter and then a head, before either is drawn, are both kept", () => {
  const { result } = shown();
  const before = result.current; // what is pressed is what was drawn last
  act(() => {
    before.set("state", "all");
    before.sortBy("customer", false);
  });
  expect(window.location.search).toBe("?state=all&sort=customer");
  expect([result.current.value("state"), result.current.sort]).toEqual(["all", "customer"]);
});

test("a head that is pressed twice turns round once more each time", () => {
  const { result } = shown();
  const before = result.current;
  act(() => before.sortBy("customer", false));
  act(() => {
    before.sortBy("customer", false);
    before.sortBy("customer", false);
  });
  expect(new URLSearchParams(window.location.search).get("down")).toBe("false");
});
