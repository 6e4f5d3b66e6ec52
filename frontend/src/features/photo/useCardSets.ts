/** The sets of scale cards that are the teacher's own, and what was measured of each. */
import { useQuery } from "@tanstack/react-query";
import { answered, api } from "../../api/client";
import { keys } from "../../api/queries";

export const useCardSets = () =>
  useQuery({ queryKey: keys.cardSets, queryFn: () => answered(api.GET("/api/card-sets")) });
