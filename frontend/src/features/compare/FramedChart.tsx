/** A chart with its answer in words, its legend, the same figures as a table, and the drawing to take along as SVG. */
import { Box, Typography } from "@mui/material";
import { useState, type ReactNode } from "react";
import type { Why } from "../../api/queries";
import type { Chart } from "../../api/types";
import { ChartDrawing } from "../../drawing/ChartDrawing";
import { Figures } from "../../shared/Figures";
import { ink } from "../../shared/theme";
import { WhyPanel } from "../../shared/Why";
import { useTeams } from "../run";
import { SaveDrawing } from "./SaveDrawing";

interface ChartProps {
  chart: Chart;
  /** What a figure of the chart is asked of, by the name that it has there. */
  whyOf?: (figure: string) => Why;
  children?: ReactNode;
}

/** The drawing with its legend and a way to save it. */
export function DrawnChart({ chart, whyOf, children }: ChartProps) {
  const teams = useTeams();
  const [asked, setAsked] = useState<{ why: Why; at: Element } | null>(null);
  return (
    <Box data-chart sx={{ minWidth: 0 }}>
      <ChartDrawing
        chart={chart}
        teams={teams}
        {...(whyOf && { onWhy: (figure, at) => setAsked({ why: whyOf(figure), at }) })}
      />
      <WhyPanel why={asked?.why ?? null} anchor={asked?.at ?? null} onClose={() => setAsked(null)} />
      {chart.legend !== "" && (
        <Typography variant="body2" sx={{ color: ink.soft }}>
          {chart.legend}
          {whyOf && " Touch a figure to see how it came about."}
        </Typography>
      )}
      {children}
      <SaveDrawing file={chart.key} />
    </Box>
  );
}

/** `above` stands between the answer and the drawing. */
export function FramedChart({ chart, above }: { chart: Chart | null; above?: ReactNode }) {
  if (!chart) return null;
  return (
    <Box component="section" aria-label={chart.title} sx={{ minWidth: 0, mb: 3 }}>
      <Typography variant="h2">{chart.title}</Typography>
      <Typography sx={{ mb: 0.5 }}>{chart.says}</Typography>
      {above}
      <DrawnChart chart={chart} />
      <Figures head={chart.head} rows={chart.rows} />
    </Box>
  );
}
