/** What a recipe gave in the years before: the best, the middle, what next year's kit should hold. */
import { Box, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { answered, api } from "../../api/client";
import { formatDate, formatMass, formatPercent } from "../../shared/format";
import { ink } from "../../shared/theme";
import { useUnits } from "../../shared/units";
import { useRunState } from "../run";

export function History() {
  const { state } = useRunState();
  const units = useUnits();
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
      <Box
        component="table"
        sx={{
          borderCollapse: "collapse",
          "& th, & td": { textAlign: "left", pr: 3, py: 0.4, borderBottom: `1px solid ${ink.line}` },
        }}
      >
        <thead>
          <tr>
            <th>When</th>
            <th>Class</th>
            <th>Designs</th>
            <th>Best</th>
            <th>Middle</th>
            <th>Ran out</th>
          </tr>
        </thead>
        <tbody>
          {runs.map((one) => (
            <tr key={one.id} style={{ fontWeight: one.id === id ? 700 : 400 }}>
              <td>{formatDate(one.date)}</td>
              <td>{one.class_name}</td>
              <td>{one.designs}</td>
              <td>
                {one.best_kg === null
                  ? "–"
                  : (one.best_at_least ? "at least " : "") + formatMass(one.best_kg, units)}
              </td>
              <td>{one.median_kg === null ? "–" : formatMass(one.median_kg, units)}</td>
              <td>{formatPercent(one.ran_out_share)}</td>
            </tr>
          ))}
        </tbody>
      </Box>
    </>
  );
}
