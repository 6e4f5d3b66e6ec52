/** Load held against own weight, with rays of equal ratio: the steeper, the better used. */
import { OUNCE_KG, POUND_KG } from "../../shared/format";
import type { Comparison } from "../../api/types";

import { ink } from "../../shared/theme";
import { useUnits } from "../../shared/units";
import { MarkShape } from "../../drawing/TeamMark";
import { tickLabel, ticks } from "../../drawing/ticks";
import { ChartLabel } from "./ChartLabel";
import { placeLabels, rays } from "./rays";

const W = 520;
const H = 470;
const M = { left: 48, right: 50, top: 38, bottom: 50 };

export function RayChart({ comparison }: { comparison: Comparison }) {
  const units = useUnits();
  const shown = comparison.ranked.flatMap((row) =>
    row.score.self_mass ? [{ row, mass: row.score.self_mass.value }] : [],
  );
  if (shown.length === 0) return null;
  const massUnit = units === "us" ? OUNCE_KG : 0.001;
  const loadUnit = units === "us" ? POUND_KG : 1;
  const maxMass = Math.max(...shown.map(({ mass }) => mass)) * 1.16;
  const maxLoad =
    Math.max(...shown.map(({ row }) => row.score.held_interval.high ?? row.score.held_kg * 1.08)) * 1.08;
  const x = (kg: number) => M.left + (kg / maxMass) * (W - M.left - M.right);
  const y = (kg: number) => H - M.bottom - (kg / maxLoad) * (H - M.top - M.bottom);
  const labels = placeLabels(
    shown.map(({ row, mass }) => ({ x: x(mass), y: y(row.score.held_kg), text: row.team.name })),
    W,
    17,
  );
  const drawn = rays(
    maxMass,
    maxLoad,
    shown.map(({ row, mass }) => row.score.held_kg / mass),
  );
  return (
    <svg
      width="100%"
      viewBox={`0 0 ${W} ${H}`}
      role="img"
      aria-label={`Load held against own weight for ${shown.length} designs`}
    >
      {drawn.map((ray) => {
        const top = ray.load >= maxLoad * 0.999;
        return (
          <g key={ray.ratio}>
            <path
              d={`M${x(0)} ${y(0)}L${x(ray.selfMass)} ${y(ray.load)}`}
              stroke={ink.line}
              strokeWidth={1.6}
            />
            <text
              x={x(ray.selfMass) + (top ? 0 : 6)}
              y={y(ray.load) + (top ? -7 : 5)}
              textAnchor={top ? "middle" : "start"}
              fontSize={15}
              fill={ink.soft}
            >
              {ray.ratio} ×
            </text>
          </g>
        );
      })}
      <path d={`M${x(0)} ${y(maxLoad)}V${y(0)}H${x(maxMass)}`} fill="none" stroke={ink.ink} strokeWidth={2} />
      {ticks(maxMass / massUnit, 6).map((value) => (
        <g key={`m${value}`}>
          <path d={`M${x(value * massUnit)} ${y(0)}v6`} stroke={ink.ink} strokeWidth={2} />
          <text x={x(value * massUnit)} y={y(0) + 22} textAnchor="middle" fontSize={15} fontWeight={600}>
            {tickLabel(value)}
          </text>
        </g>
      ))}
      {ticks(maxLoad / loadUnit, 6).map((value) => (
        <g key={`l${value}`}>
          <path d={`M${x(0)} ${y(value * loadUnit)}h-6`} stroke={ink.ink} strokeWidth={2} />
          <text x={x(0) - 9} y={y(value * loadUnit) + 5} textAnchor="end" fontSize={15} fontWeight={600}>
            {tickLabel(value)}
          </text>
        </g>
      ))}
      <text x={4} y={14} fontSize={15} fill={ink.soft}>
        held, {units === "us" ? "lb" : "kg"}
      </text>
      <text x={x(maxMass)} y={H - 8} textAnchor="end" fontSize={15} fill={ink.soft}>
        own weight, {units === "us" ? "oz" : "g"}
      </text>
      {shown.map(({ row, mass }, i) => {
        const { held_interval: interval, held_kg } = row.score;
        const doubt = 2 * (row.score.self_mass?.standard_uncertainty ?? 0);
        const cx = x(mass);
        return (
          <g key={row.design} stroke={row.team.colour}>
            {interval.high === null ? (
              <path
                d={`M${cx} ${y(held_kg)}V${y(maxLoad) + 4}m-6 9l6 -9l6 9`}
                fill="none"
                strokeWidth={2.5}
                strokeDasharray="6 4"
              />
            ) : (
              <path
                d={`M${cx} ${y(interval.low)}V${y(interval.high ?? held_kg)}m-5 0h10`}
                fill="none"
                strokeWidth={2.5}
              />
            )}
            <path d={`M${x(Math.max(0, mass - doubt))} ${y(held_kg)}H${x(mass + doubt)}`} strokeWidth={2.5} />
            <g transform={`translate(${cx} ${y(held_kg)})`} stroke="none">
              <MarkShape team={row.team} size={18} />
            </g>
            <ChartLabel label={labels[i]} size={17} />
          </g>
        );
      })}
    </svg>
  );
}
