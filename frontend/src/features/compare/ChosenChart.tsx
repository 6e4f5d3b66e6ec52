/** Results against something that came out differently from team to team: size, span, own weight. */
import { ToggleButton, ToggleButtonGroup } from "@mui/material";
import { useState } from "react";
import type { Reasons, Team } from "../../api/types";
import { formatLength, formatMass } from "../../shared/format";
import { ink } from "../../shared/theme";
import { useUnits } from "../../shared/units";
import { MarkShape } from "../../drawing/TeamMark";
import { tickLabel, ticks } from "../../drawing/ticks";
import { ChartFrame } from "./ChartFrame";
import { ChartLabel } from "./ChartLabel";
import { placeLabels } from "./rays";
import { type ScoreAxis, scoreText } from "./scoreAxis";

const W = 610;
const H = 330;
const M = { left: 60, right: 20, top: 26, bottom: 46 };

interface Props {
  chosen: Reasons["chosen"];
  axis: ScoreAxis;
  teams: ReadonlyMap<number, Team>;
}

export function ChosenChart({ chosen, axis, teams }: Props) {
  const units = useUnits();
  const [key, setKey] = useState(chosen[0]?.key ?? "");
  const shown = chosen.find((one) => one.key === key) ?? chosen[0];
  if (!shown) return null;
  const own = (value: number) =>
    shown.kind === "length"
      ? formatLength(value, units)
      : shown.kind === "mass"
        ? formatMass(value, units)
        : String(Number(value.toPrecision(3)));
  const values = shown.points.map((one) => one.value);
  const low = Math.min(...values);
  const high = Math.max(...values);
  const pad = (high - low) * 0.12;
  const x = (value: number) =>
    M.left + ((value - low + pad) / (high - low + 2 * pad)) * (W - M.left - M.right);
  const most = Math.max(...shown.points.map((one) => one.score)) * 1.15;
  const y = (score: number) => H - M.bottom - (score / most) * (H - M.top - M.bottom);
  const labels = placeLabels(
    shown.points.map((one) => ({
      x: x(one.value),
      y: y(one.score),
      text: teams.get(one.design)?.name ?? "",
    })),
    W,
    15,
  );
  return (
    <ChartFrame
      title="What teams did differently"
      says={shown.says}
      file={`against-${shown.key}`}
      head={["Team", shown.label, "Result"]}
      rows={shown.points.map((one) => [
        teams.get(one.design)?.name ?? "",
        own(one.value),
        (one.at_least ? "at least " : "") + scoreText(one.score, axis),
      ])}
    >
      {chosen.length > 1 && (
        <ToggleButtonGroup
          exclusive
          size="small"
          aria-label="Against what"
          value={shown.key}
          onChange={(_, value: string | null) => value && setKey(value)}
          sx={{ flexWrap: "wrap", "& .MuiToggleButton-root": { px: 1.2, py: 0.2, textTransform: "none" } }}
        >
          {chosen.map((one) => (
            <ToggleButton key={one.key} value={one.key}>
              {one.label}
            </ToggleButton>
          ))}
        </ToggleButtonGroup>
      )}
      <svg
        width="100%"
        viewBox={`0 0 ${W} ${H}`}
        role="img"
        aria-label={`Result against ${shown.label.toLowerCase()}`}
      >
        {ticks(most / axis.unit, 5).map((value) => (
          <g key={value}>
            <path
              d={`M${M.left} ${y(value * axis.unit)}H${W - M.right}`}
              stroke={ink.line}
              strokeWidth={1.2}
            />
            <text x={M.left - 8} y={y(value * axis.unit) + 5} textAnchor="end" fontSize={15} fill={ink.soft}>
              {tickLabel(value)}
            </text>
          </g>
        ))}
        <text x={2} y={14} fontSize={15} fill={ink.soft}>
          result{axis.symbol && `, ${axis.symbol}`}
        </text>
        <path
          d={`M${M.left} ${M.top}V${H - M.bottom}H${W - M.right}`}
          fill="none"
          stroke={ink.ink}
          strokeWidth={2}
        />
        {[low, high].map((value, i) => (
          <text
            key={i}
            x={x(value)}
            y={H - M.bottom + 20}
            textAnchor={i === 0 ? "start" : "end"}
            fontSize={15}
            fontWeight={600}
          >
            {own(value)}
          </text>
        ))}
        <text x={(M.left + W) / 2} y={H - 6} textAnchor="middle" fontSize={15} fill={ink.soft}>
          {shown.label.toLowerCase()}
        </text>
        {shown.points.map((one, i) => {
          const team = teams.get(one.design);
          return (
            <g key={one.design}>
              {one.at_least && (
                <path
                  d={`M${x(one.value)} ${y(one.score)}v-26m-5 8l5 -8l5 8`}
                  fill="none"
                  stroke={team?.colour}
                  strokeWidth={2.2}
                  strokeDasharray="5 4"
                />
              )}
              {team && (
                <g transform={`translate(${x(one.value)} ${y(one.score)})`}>
                  <MarkShape team={team} size={18} />
                </g>
              )}
              <ChartLabel label={labels[i]} size={15} />
            </g>
          );
        })}
      </svg>
    </ChartFrame>
  );
}
