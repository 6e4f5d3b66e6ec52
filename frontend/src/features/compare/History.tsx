/** What a recipe gave in the years before: the best, the middle, what next year's kit should hold. */
import { Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { answered, api } from "../../api/client";
import { PlainTable } from "../../shared/Figures";
import { formatDate, formatPercent } from "../../shared/format";
import { useRunState } from "../run";

export function History() {
  const { state } = useRunState();
  const id = state.run.id;
  const history = useQuery({
    queryKey: ["history", id],
    queryFn: () => answered(api.GET("/api/runs/{id}/history", { params: { path: { id } } })),
    staleTime: 0,
  });
  if (!history.data) return null;
  const { runs, says } = history.data;
  return (
    <>
      <Typography variant="h2" sx={{ mt: 3 }}>
        This challenge over the years
      </Typography>
      <Typography sx={{ mb: 1 }}>{says}</Typography>
      <PlainTable
        head={["When", "Class", "Designs", "Best", "Middle", "Ran out"]}
        rows={runs.map((run) => [
          run.id === id ? <b>{formatDate(run.date)}</b> : formatDate(run.date),
          run.class_name,
          run.designs,
          run.best || "–",
          run.median || "–",
          formatPercent(run.ran_out_share),
        ])}
      />
    </>
  );
}
