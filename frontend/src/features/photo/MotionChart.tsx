/** How far something went under each load of a trial, beside what the model says. */
import { Box, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { answered, api } from "../../api/client";
import { keys } from "../../api/queries";
import { ChartDrawing } from "../../drawing/ChartDrawing";
import { Figures } from "../../shared/Figures";
import { ink } from "../../shared/theme";
import { useTeams } from "../run";

/** `measure` is the one that is shown; empty for all that there are. */
export function MotionChart({ trialId, measure = "" }: { trialId: string; measure?: string }) {
  const teams = useTeams();
  const { data } = useQuery({
    queryKey: keys.motions(trialId),
    queryFn: () => answered(api.GET("/api/trials/{id}/motions", { params: { path: { id: trialId } } })),
  });
  return (
    <>
      {(data ?? [])
        .filter((chart) => measure === "" || chart.key === measure)
        .map((chart) => (
          <Box key={chart.key} component="section" aria-label={chart.title} sx={{ mt: 2, minWidth: 0 }}>
            <Typography sx={{ fontWeight: 600 }}>{chart.says}</Typography>
            <ChartDrawing chart={chart} teams={teams} />
            <Typography variant="body2" sx={{ color: ink.soft }}>
              {chart.legend}
            </Typography>
            <Figures head={chart.head} rows={chart.rows} />
          </Box>
        ))}
    </>
  );
}
