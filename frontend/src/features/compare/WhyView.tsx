/** Why it came out so: what was varied, what teams did differently, who foresaw it, how it ended, how much it scatters. */
import { Box, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answered, api } from "../../api/client";
import { keys } from "../../api/queries";
import type { Chart, Comparison } from "../../api/types";
import { Empty, Failed, Loading } from "../../shared/states";
import { useRunState } from "../run";
import { FramedChart } from "./FramedChart";

/** Results against one thing that differed; which one is chosen above the drawing. */
function AgainstChart({ charts }: { charts: readonly Chart[] }) {
  const [key, setKey] = useState("");
  const shown = charts.find((chart) => chart.key === key) ?? charts[0];
  if (!shown) return null;
  const choice = charts.length > 1 && (
    <ToggleButtonGroup
      exclusive
      size="small"
      aria-label="Against what"
      value={shown.key}
      onChange={(_, value: string | null) => value && setKey(value)}
      sx={{ flexWrap: "wrap", "& .MuiToggleButton-root": { px: 1.2, py: 0.2, textTransform: "none" } }}
    >
      {charts.map((chart) => (
        <ToggleButton key={chart.key} value={chart.key}>
          {chart.head[1]}
        </ToggleButton>
      ))}
    </ToggleButtonGroup>
  );
  return <FramedChart chart={shown} above={choice} />;
}

export function WhyView({ school, rule }: { school: Comparison["school"]; rule: Comparison["trial_rule"] }) {
  const { state } = useRunState();
  const reasons = useQuery({
    queryKey: keys.reasons(state.run.id, school, rule),
    queryFn: () =>
      answered(
        api.GET("/api/runs/{id}/reasons", {
          params: { path: { id: state.run.id }, query: { school, trial_rule: rule } },
        }),
      ),
    placeholderData: keepPreviousData,
    staleTime: 0,
  });
  if (reasons.isPending) return <Loading what="the reasons" />;
  if (!reasons.data) return <Failed error={reasons.error} retry={() => void reasons.refetch()} />;
  const { charts } = reasons.data;
  if (!charts.endings && charts.against.length === 0)
    return <Empty title="No test has come to its end yet." />;
  return (
    <Box
      sx={{
        display: "grid",
        gridTemplateColumns: { md: "minmax(0, 1fr) minmax(0, 1fr)" },
        columnGap: 5,
        mt: 1.5,
      }}
    >
      <Box sx={{ minWidth: 0 }}>
        <FramedChart chart={charts.factor} />
        <FramedChart chart={charts.foresight} />
        {charts.repeats.length > 0 && (
          <section aria-label="Repeated trials">
            <Typography variant="h2">The same design again</Typography>
            {charts.repeats.map((line) => (
              <Typography key={line}>{line}</Typography>
            ))}
          </section>
        )}
      </Box>
      <Box sx={{ minWidth: 0 }}>
        <AgainstChart charts={charts.against} />
        <FramedChart chart={charts.endings} />
        <FramedChart chart={charts.survival} />
      </Box>
    </Box>
  );
}
