/** What the server said a team's page shows, and when it came by this tablet's clock [ms]. */
import { useQueryClient } from "@tanstack/react-query";
import { keys } from "../../api/queries";
import type { TeamPage } from "../../api/types";

export interface Came {
  page: TeamPage;
  at: number;
}

/** Under which is kept what is typed: one team's version in one lesson. */
export const placeOf = (page: TeamPage): string => `${page.run} ${page.team?.id ?? 0} v${page.version}`;

export const came = (page: TeamPage): Came => ({ page, at: performance.now() });

/** Shows what a write answered. */
export function useShow(): (page: TeamPage) => void {
  const client = useQueryClient();
  return (page) => client.setQueryData(keys.team, came(page));
}
