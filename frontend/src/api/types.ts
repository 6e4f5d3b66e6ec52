/** Short names for the generated types: the API's schema is the only place where they are written. */
import type { components } from "./schema";

type Schemas = components["schemas"];

export type Teacher = Schemas["Teacher"];
export type SchoolClass = Schemas["SchoolClass"];
export type Team = Schemas["Team"];
export type Family = Schemas["Family"];
export type Mode = Schemas["Mode"];
export type ReadingSpec = Schemas["ReadingSpec"];
export type Recipe = Schemas["Recipe"];
export type TypedRecipe = Schemas["TypedRecipeRequest"];
export type KitItem = Schemas["KitItem"];
export type RunListed = Schemas["RunListed"];
export type RunState = Schemas["RunState"];
export type Run = Schemas["Run"];
export type Bay = Schemas["Bay"];
export type Design = Schemas["Design"];
export type Reading = Schemas["Reading"];
export type TrialState = Schemas["TrialState"];
export type TrialResult = Schemas["Result"];
export type Step = Schemas["Step"];
export type LedgerEvent = Schemas["EventRequest"];
export type EventKind = Schemas["EventKindEnum"];
export type Refusal = Schemas["Refusal"];
export type Appended = Schemas["Appended"];
export type Comparison = Schemas["Comparison"];
export type Ranked = Schemas["Ranked"];
export type Interval = Schemas["Interval"];
export type ErrorBody = Schemas["ErrorBody"];
export type UnitSystem = Schemas["UnitSystemEnum"];
