import { describe, expect, it } from "vitest";
import type { BenchMeasure } from "../../src/api/types";
import { measureFigure, measureWords } from "../../src/features/bench/roundWords";

const measured = (more: Partial<BenchMeasure>): BenchMeasure => ({
  key: "it",
  label: "It",
  kind: "length",
  how: "",
  needed: true,
  short: "It",
  lead: "",
  unit: "",
  beside: "",
  yes_no: false,
  followed: false,
  pictured: false,
  counted_loose: false,
  before: "",
  ...more,
});

describe("what was measured at the bench", () => {
  it.each([
    ["length", 0.141, "metric", "141 mm"],
    ["mass", 0.0384, "metric", "38.4 g"],
    ["area", 0.10582, "metric", "1 060 cm²"],
    ["area", 0.0412, "us", "63.9 in²"],
    ["area", 0, "metric", "0 cm²"],
    ["count", 12, "metric", "12"],
    ["time", 25, "metric", "25 s"],
  ] as const)("of %s is told in the unit of its kind", (kind, value, units, words) => {
    expect(measureWords(measured({ kind }), value, units).replace(/\s/g, " ")).toBe(words);
  });

  it("is a large figure with its unit beside it, thousands and all", () => {
    const { value, unit } = measureFigure(measured({ kind: "area" }), 0.143, "metric");
    expect([value.replace(/\s/g, " "), unit]).toEqual(["1 430", "cm²"]);
    expect(measureFigure(measured({ kind: "count", unit: "pieces" }), 12, "metric")).toEqual({
      value: "12",
      unit: "pieces",
    });
    expect(measureFigure(measured({ yes_no: true }), 1, "metric").value).toBe("yes");
  });
});
