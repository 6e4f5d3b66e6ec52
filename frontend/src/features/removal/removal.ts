/** Deleting and bringing back, by what it is. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { answered, api } from "../../api/client";
import type { Removed } from "../../api/types";

export type Kind = Removed["what"];

const write = (what: Kind, id: number, removed: boolean): Promise<Removed> => {
  const asked = { params: { path: { id } }, body: { removed } };
  switch (what) {
    case "class":
      return answered(api.PUT("/api/classes/{id}/removed", asked));
    case "team":
      return answered(api.PUT("/api/teams/{id}/removed", asked));
    case "recipe":
      return answered(api.PUT("/api/recipes/{id}/removed", asked));
    case "run":
      return answered(api.PUT("/api/runs/{id}/removed", asked));
    case "design":
      return answered(api.PUT("/api/designs/{id}/removed", asked));
  }
};

/** A deletion, or one taken back; what is on screen is fetched again after it. */
export function useRemoval(what: Kind, id: number, onDone?: () => void) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (removed: boolean) => write(what, id, removed),
    onSuccess: async () => {
      // Where it was shown is left first, so that nothing asks for what is gone.
      onDone?.();
      await client.invalidateQueries();
    },
  });
}
