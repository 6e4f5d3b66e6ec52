/** The order with one id moved to a place; a place outside is the nearest end. */
export function moved(order: readonly number[], id: number, to: number): number[] {
  const rest = order.filter((other) => other !== id);
  const place = Math.min(Math.max(to, 0), rest.length);
  return [...rest.slice(0, place), id, ...rest.slice(place)];
}
