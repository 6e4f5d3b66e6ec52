/** The recipe form's state: everything a teacher types, as text, and how a stored recipe becomes text again. */
import type { Family, KitItem, Recipe, TypedRecipe, UnitSystem } from "../../api/types";
import { editText } from "../../app/format";

export type RecipeEntry = Required<TypedRecipe>;
export type KitEntry = Required<RecipeEntry["kit"][number]>;

export function emptyItem(shape: KitItem["shape"]): KitEntry {
  return {
    name: shape === "platform" ? "platform" : "",
    shape,
    count: shape === "platform" ? 1 : 20,
    roll_of: 1,
    batch_count: shape === "platform" ? 1 : 10,
    batch_mass: "",
    scale_resolution: "1 g",
    diameter: "",
    thickness: "",
  };
}

export function emptyRecipe(family: Family, units: UnitSystem): RecipeEntry {
  return {
    name: "",
    question: "",
    family: "bridge",
    setup: Object.fromEntries(family.setup.map((one) => [one.key, editText(one.default, one.kind, units)])),
    kit: [emptyItem("platform"), emptyItem("nut")],
    school: "strength_to_weight",
    trial_rule: "best",
    breach_policy: "penalty",
    penalty: 0.1,
    build_minutes: 20,
  };
}

/** A stored recipe as it was typed. */
export function recipeToEntry(recipe: Recipe): RecipeEntry {
  const { name, question, school, trial_rule, breach_policy, penalty, build_minutes } = recipe;
  return {
    name,
    question,
    family: "bridge",
    setup: { ...recipe.typed_setup },
    kit: recipe.typed_kit.map((item) => ({ ...emptyItem(item.shape ?? "disc"), ...item })),
    school,
    trial_rule,
    breach_policy,
    penalty,
    build_minutes,
  };
}
