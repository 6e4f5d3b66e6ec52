/** A unit is assumed where none is typed, and only there. */
import { describe, expect, it } from "vitest";
import { assumeUnit } from "../../src/shared/assumeUnit";

describe("the unit that is meant", () => {
  it.each([
    ["300", "length", "metric", "300 mm"],
    [" 14 1/4 ", "length", "us", "14 1/4 in"],
    ["1½", "length", "us", "1½ in"],
    ["38,4", "mass", "metric", "38,4 g"],
    ["1 210.5", "mass", "metric", "1 210.5 g"],
    ["5", "time", "us", "5 s"],
    ["2.5", "frequency", "metric", "2.5 Hz"],
  ] as const)("%s as a %s in %s is %s", (text, kind, units, meant) => {
    expect(assumeUnit(text, kind, units)).toBe(meant);
  });

  it.each(["30 cm", "1' 2\"", "1′ 2″", "3 cm 5 mm", "heavy", "", "  ", "12 N"])(
    "%s stays as it is",
    (text) => {
      expect(assumeUnit(text, "length", "metric")).toBe(text);
      expect(assumeUnit(text, "mass", "us")).toBe(text);
    },
  );

  it("a count has no unit", () => {
    expect(assumeUnit("12", "count", "metric")).toBe("12");
  });

  it("a young class counts lengths in its own", () => {
    expect(assumeUnit("12", "length", "metric", "cube")).toBe("12 cubes");
    expect(assumeUnit("12 cm", "length", "metric", "cube")).toBe("12 cm");
    expect(assumeUnit("12", "mass", "metric", "cube")).toBe("12 g");
  });
});
