import { createContext, use } from "react";
import type { UnitSystem } from "../api/types";

/** The units the signed-in teacher reads. */
export const UnitsContext = createContext<UnitSystem>("metric");
export const useUnits = (): UnitSystem => use(UnitsContext);
