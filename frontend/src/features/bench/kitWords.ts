import type { KitItem } from "../../api/types";

/** So many of an item, as the bench says it: "3 × nut", "1 bag"; the platform goes by its name alone. */
export function itemWords(kit: readonly KitItem[], key: string, count: number): string {
  const item = kit.find((one) => one.key === key);
  if (!item) return key;
  if (item.shape === "platform" || item.order > 0) return item.name;
  return count === 1 ? `1 ${item.name}` : `${count} × ${item.name}`;
}
