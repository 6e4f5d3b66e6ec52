/** What the ways of scoring are called on screen, with the reason for choosing each. */
import type { Recipe } from "../../api/types";

export const SCHOOLS: Record<Recipe["school"], { label: string; why: string }> = {
  strength_to_weight: { label: "Times its own weight", why: "Rewards using little material well." },
  most_held: { label: "Most load held", why: "Plain and quick; heavy bridges have the edge." },
};
export const TRIAL_RULES: Record<Recipe["trial_rule"], { label: string; why: string }> = {
  best: { label: "Best trial counts", why: "A mishap does not sink a team." },
  mean: { label: "Mean of the trials", why: "Fair to steady work; needs every trial." },
  last: { label: "Last trial counts", why: "The final build is what is judged." },
};
export const BREACH_POLICIES: Record<Recipe["breach_policy"], { label: string; why: string }> = {
  penalty: { label: "Ranked with a penalty", why: "A share is taken off the score." },
  note: { label: "Ranked, with a note", why: "The breach is shown beside the result." },
  refuse: { label: "Not tested until mended", why: "Check-in holds it back from the bench." },
};
