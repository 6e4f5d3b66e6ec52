/** How pictures, and where their edges lie, are sent. */
import { useRef } from "react";
import { newId } from "../../shared/newId";

/** A picture of some megapixels on a weak line, and its turn at the server [ms]. */
export const PATIENCE_MS = 120_000;

export interface Where {
  side: "in" | "before" | "behind";
  distance: string;
  within: string;
}

export const form = (parts: Record<string, string | Blob>): FormData => {
  const body = new FormData();
  for (const [name, part] of Object.entries(parts)) body.append(name, part);
  return body;
};

/** The file itself: one that a camera has just taken may be gone from where it was when it is sent again. */
export const heldHere = async (file: File): Promise<File> =>
  new File([await file.arrayBuffer()], file.name, { type: file.type });

export const planeOf = (where: Where) =>
  where.side === "in" || where.distance.trim() === ""
    ? { before_text: "", within_text: "" }
    : {
        before_text: `${where.side === "behind" ? "-" : ""}${where.distance.trim()}`,
        within_text: where.within.trim(),
      };

/** The day here; the server may be in another one. */
export const today = (): string => {
  const now = new Date();
  const two = (part: number) => String(part).padStart(2, "0");
  return `${now.getFullYear()}-${two(now.getMonth() + 1)}-${two(now.getDate())}`;
};

/** A name for what is sent, the same as long as it is the same: after a lost answer it is kept once. */
export function useNamed(): (what: string) => string {
  const last = useRef({ what: "", name: "" });
  return (what) => {
    if (last.current.what !== what) last.current = { what, name: newId() };
    return last.current.name;
  };
}
