/** What colleagues are in a class, in words. */
import type { ClassPart, Part } from "../../api/types";

export const PARTS: readonly [Part, string][] = [
  ["helper", "helps at check-in and bench"],
  ["lead", "leads it together with you"],
  ["observer", "looks on"],
];

/** What one is oneself, beside whose class it is. */
export const OWN_PART: Record<ClassPart, string> = {
  owner: "",
  lead: "you lead it too",
  helper: "you help",
  observer: "you look on",
};

/** Whether one may change the class and plan for it. */
export const leads = (part: ClassPart): boolean => part === "owner" || part === "lead";
