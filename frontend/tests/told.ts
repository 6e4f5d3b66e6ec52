/** What the core and the API say, as `./girder test` wrote it down, and the server that it runs for these tests. */
import { readFileSync } from "node:fs";

export interface Agreement {
  what: string;
  module: string;
  call: string;
  near: number;
  cases: { args: unknown[]; answer: unknown }[];
}

export interface RunToTest {
  run: number;
  designs: number[];
}

export interface Told {
  agreements: Agreement[];
  loads: { load: number; push: boolean; says: string }[];
  typed: { value: number; kind: "length" | "mass" | "count" | "frequency"; units: "metric" | "us" }[];
  marks: Record<string, { path: string; pen: number }[]>;
  drawings: { family: string; box: [number, number, number, number] }[];
  arch: { kind: unknown; typed: Record<string, string> };
  planner: {
    plain: Record<string, unknown>;
    own: Record<string, unknown>;
    filled: Record<string, unknown>;
    answers: Record<string, unknown>;
  };
  world: {
    server: string;
    session: string;
    runs: Record<
      | "bridge"
      | "lossy_bridge"
      | "sender_bridge"
      | "begun_bridge"
      | "boat"
      | "boat_to_check_in"
      | "shake_tower"
      | "wall",
      RunToTest
    >;
    other: RunToTest & { session: string };
  };
}

const file = process.env["GIRDER_TOLD"];
if (!file)
  throw new Error("These tests are held against the core and a server: run them with ./girder test --quick");

export const told = JSON.parse(readFileSync(file, "utf8")) as Told;
