/** Whether what is on screen could not be asked for again: the network is away, or the server is. */
import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useSyncExternalStore } from "react";
import { isUnreachable } from "../api/client";

export function useAway(): boolean {
  const cache = useQueryClient().getQueryCache();
  const subscribe = useCallback((listener: () => void) => cache.subscribe(listener), [cache]);
  return useSyncExternalStore(subscribe, () =>
    cache
      .getAll()
      .some(
        (query) =>
          query.isActive() &&
          (query.state.fetchStatus === "paused" ||
            (query.state.status === "error" && isUnreachable(query.state.error))),
      ),
  );
}
