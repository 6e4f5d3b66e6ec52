/** Why it came out so: what was varied, what teams did differently, who foresaw it, how it ended, how much it scatters. */
import { Box } from "@mui/material";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { answered, api } from "../../api/client";
import { keys } from "../../api/queries";
import type { Comparison } from "../../api/types";
import { Empty, Failed, Loading } from "../../shared/states";
import { useUnits } from "../../shared/units";
import { useRunState } from "../run";
import { ChosenChart } from "./ChosenChart";
import { FactorStrip } from "./FactorStrip";
import { ForesightChart } from "./ForesightChart";
import { RepeatsTable, SurvivalChart, WaysChart } from "./ScatterCharts";
import { axisOf } from "./scoreAxis";

export function WhyView({
  school,
  rule,
  survivedKind,
}: Pick<Comparison, "school"> & { rule: Comparison["trial_rule"]; survivedKind: string }) {
  const { state } = useRunState();
  const units = useUnits();
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
  if (reasons.isError) return <Failed error={reasons.error} retry={() => void reasons.refetch()} />;
  const { data } = reasons;
  const teams = new Map(state.designs.map((design) => [design.id, design.team]));
  const axis = axisOf(school, survivedKind, units);
  if (data.ways.length === 0 && data.chosen.length === 0)
    return <Empty title="Nothing has been tested to an end yet." />;
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
        {data.factor && (
          <FactorStrip name={data.factor_name} effect={data.factor} axis={axis} teams={teams} />
        )}
        <ForesightChart reasons={data} teams={teams} />
        <RepeatsTable repeated={data.repeated} axis={axis} teams={teams} />
      </Box>
      <Box sx={{ minWidth: 0 }}>
        <ChosenChart chosen={data.chosen} axis={axis} teams={teams} />
        <WaysChart ways={data.ways} />
        <SurvivalChart reasons={data} />
      </Box>
    </Box>
  );
}
