/** Which feature knows which: none knows one that knows it, by whatever way round. */
import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { describe, expect, it } from "vitest";

const FEATURES = join(__dirname, "../src/features");
const features = readdirSync(FEATURES);
const known = new Map(
  features.map((feature) => {
    const files = readdirSync(join(FEATURES, feature), { recursive: true, encoding: "utf8" });
    const sources = files
      .filter((file) => /\.tsx?$/.test(file))
      .map((file) => readFileSync(join(FEATURES, feature, file), "utf8"));
    const imported = sources.flatMap((source) =>
      [...source.matchAll(/from "\.\.\/(\w+)"/g)].map((match) => match[1]),
    );
    return [feature, new Set(imported)];
  }),
);

/** The features on the way from one to itself; none where there is no such way. */
function circle(from: string, at = from, way: string[] = []): string[] {
  for (const next of known.get(at) ?? []) {
    if (next === from) return [...way, at];
    if (next && !way.includes(next)) {
      const round = circle(from, next, [...way, at]);
      if (round.length > 0) return round;
    }
  }
  return [];
}

describe("the rooms of the interface", () => {
  it("features know each other, and in no circle", () => {
    expect([...known.values()].reduce((sum, others) => sum + others.size, 0)).toBeGreaterThan(10);
    for (const feature of features) expect(circle(feature)).toEqual([]);
  });

  it("every feature that another knows has a door", () => {
    for (const others of known.values())
      for (const other of others) expect(readdirSync(join(FEATURES, other ?? ""))).toContain("index.ts");
  });
});
