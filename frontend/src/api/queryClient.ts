/** What was fetched, in this tab's memory, and when it is asked for again. */
import { QueryClient } from "@tanstack/react-query";
import { isUnreachable } from "./client";

export const queryClient = new QueryClient({
  defaultOptions: {
    queries: {
      // No answer, or one that the server could not give: it may come right. A refusal stays one.
      retry: (count, error) => isUnreachable(error) && count < 3,
      refetchOnWindowFocus: true,
    },
    mutations: { networkMode: "always" },
  },
});
