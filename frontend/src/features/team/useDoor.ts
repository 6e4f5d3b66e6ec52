/** The lesson's door as the teacher sees it; asked for while it is looked at. */
import { useQuery } from "@tanstack/react-query";
import { answered, api } from "../../api/client";
import { keys } from "../../api/queries";

export const useDoor = (run: number, wanted: boolean, everyMs: number | false) =>
  useQuery({
    queryKey: keys.door(run),
    queryFn: () => answered(api.GET("/api/runs/{id}/door", { params: { path: { id: run } } })),
    enabled: wanted,
    refetchInterval: everyMs,
  });
