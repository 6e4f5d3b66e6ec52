import type { KitItem, Step, UnitSystem } from "../../api/types";
import { formatMass, plural } from "../../shared/format";

/** So many of an item, as the bench says it: "3 × nut", "1 bag"; the platform goes by its name alone. */
export function itemWords(kit: readonly KitItem[], key: string, count: number): string {
  const item = kit.find((item) => item.key === key);
  if (!item) return key;
  if (item.shape === "platform" || item.order > 0) return item.name;
  return count === 1 ? `1 ${item.name}` : `${count} × ${item.name}`;
}

/** What pieces are called that are counted: the single object of the kit, and "piece" where they are unlike. */
export function pieceWord(kit: readonly KitItem[], count: number): string {
  const single = kit.find((item) => item.shape !== "platform" && item.roll_of === 1 && item.order === 0);
  return plural(single?.name ?? "piece", count);
}

/** What a step put on or took off: objects of the kit, or a load that was read as one figure. */
export function stepWords(kit: readonly KitItem[], step: Step, units: UnitSystem): string {
  if (step.kind !== "load_reading") return itemWords(kit, step.item, step.count);
  // Until the server has read what was typed, nobody here knows how heavy it is.
  return step.mass_kg > 0 ? `${formatMass(step.mass_kg, units)} read` : "a load, read";
}
