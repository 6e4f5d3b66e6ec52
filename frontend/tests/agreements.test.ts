/** The interface's words and projections against what the core says of the same. */
import { describe, expect, it } from "vitest";
import { told } from "./told";

const modules = import.meta.glob<Record<string, (...args: unknown[]) => unknown>>("../src/**/*.ts");

/** Whether an answer has all that is expected, numbers to within a share of themselves. */
function agrees(got: unknown, expected: unknown, near: number): boolean {
  if (typeof expected === "number" && typeof got === "number")
    return Math.abs(got - expected) <= near * Math.max(1, Math.abs(expected));
  if (Array.isArray(expected))
    return (
      Array.isArray(got) &&
      got.length === expected.length &&
      expected.every((item, i) => agrees(got[i], item, near))
    );
  if (expected !== null && typeof expected === "object")
    return (
      got !== null &&
      typeof got === "object" &&
      Object.entries(expected).every(([key, item]) =>
        agrees((got as Record<string, unknown>)[key], item, near),
      )
    );
  return Object.is(got, expected);
}

describe("the interface agrees with the core", () => {
  it.each(told.agreements.map((agreement) => [agreement.what, agreement] as const))(
    "%s",
    async (_, agreement) => {
      const load = modules[`../src/${agreement.module}`];
      expect(load, agreement.module).toBeDefined();
      const call = (await load?.())?.[agreement.call];
      expect(call, agreement.call).toBeTypeOf("function");
      expect(agreement.cases.length).toBeGreaterThan(0);
      for (const { args, answer } of agreement.cases) {
        const got = call?.(...args);
        if (!agrees(got, answer, agreement.near)) expect(got).toEqual(answer);
      }
    },
  );

  it("tells numbers, lists and objects apart from their like", () => {
    expect(agrees({ a: [1, 2], b: 3 }, { a: [1, 2] }, 0)).toBe(true);
    expect(agrees({ a: [1, 2, 3] }, { a: [1, 2] }, 0)).toBe(false);
    expect(agrees(1.1, 1, 0.01)).toBe(false);
    expect(agrees("1", 1, 1)).toBe(false);
    expect(agrees(undefined, null, 1)).toBe(false);
  });
});
