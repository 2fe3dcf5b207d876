import { describe, expect, it } from "vitest";
import { plainNumber, typedMoney, typedNumber, typedShare } from "./typed";

describe("what is typed for a number", () => {
  it.each([
    ["24", "24"],
    ["8,200", "8200"],
    ["8 200", "8200"],
    ["1.234,56", "1234.56"],
    ["1,234.56", "1234.56"],
    ["1 234,5", "1234.5"],
    ["6,40", "6.40"],
    ["0,125", "0.125"],
    ["12,5", "12.5"],
    ["8.2k", "8200"],
    ["8,2 K", "8200"],
    [".5", ".5"],
    ["-3", "-3"],
    ["−3,5", "-3.5"],
  ])("%s is %s", (text, plain) => expect(plainNumber(text)).toBe(plain));

  it.each([
    "",
    "two",
    "1,2,3",
    "1,23,456",
    "12,3456.7",
    "1.2.3",
    "4 pcs",
    "k",
    "🧵",
    "1e5",
    "0x10",
  ])("%s is none, and stays to be refused by name", (text) => {
    expect(plainNumber(text)).toBeNull();
    expect(typedNumber(text)).toBe(text || undefined);
  });

  it("takes the money's sign off, and keeps the cents as they were typed", () => {
    expect(typedMoney("£6.40", "GBP")).toBe("6.40");
    expect(typedMoney("6,40 €", "EUR")).toBe("6.40");
    expect(typedMoney("¥ 1,200", "JPY")).toBe("1200");
    expect(typedMoney("$5", "USD")).toBe("5");
    expect(typedMoney("6.40 GBP", "GBP")).toBe("6.40");
    expect(typedMoney("six", "GBP")).toBe("six");
    expect(typedMoney(" ", "GBP")).toBeUndefined();
  });

  it("leaves another currency's sign, to be refused", () => {
    expect(typedMoney("€6.40", "GBP")).toBe("€6.40");
    expect(typedMoney("6.40 USD", "GBP")).toBe("6.40 USD");
  });

  it("reads a percentage as a share", () => {
    expect(typedShare("35 %")).toBe("0.35");
    expect(typedShare("12,5")).toBe("0.125");
    expect(typedShare("a third")).toBe("a third");
  });
});
