/** Made-up pictures that ship, to practise with where there is no camera. */
import type { paths } from "../../api/schema";

export type StandIn = paths["/api/stand-in-pictures/{key}"]["get"]["parameters"]["path"]["key"];
type Offered = readonly (readonly [StandIn, string])[];

export const TO_MEASURE: Offered = [
  ["mast", "a mast beside a card"],
  ["gangway", "a gangway between two cards"],
];
export const AREAS: Offered = [
  ["wall", "a wall beside a card"],
  ["wall-attacked", "what an attack left of it"],
];
export const UNLOADED: Offered = [
  ["gangway", "a gangway with nothing on it"],
  ["mast", "a mast that stands upright"],
];
export const LOADED: Offered = [
  ["gangway-loaded", "the gangway, sagging"],
  ["mast-leaning", "the mast, leaning"],
];
/** Made-up structures that give way: how far for each kilogram [m], and that in words. */
export const GIVING: readonly (readonly [StandIn, string, number, string])[] = [
  ["gangway", "a made-up gangway", 0.01, "1 cm down for each kilogram"],
  ["mast", "a made-up mast", 0.01, "1 cm aside for each"],
];
/** The card from all sides, as the made-up tablet sees it. */
export const FOR_LENS: readonly StandIn[] = ["lens-1", "lens-2", "lens-3", "lens-4", "lens-5", "lens-6"];
export const SPREAD: Offered = [["nuts", "loose nuts on a sheet"]];
