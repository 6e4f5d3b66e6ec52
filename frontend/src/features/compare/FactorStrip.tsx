/** What was varied: a strip a level, every trial a mark, every design its team's mark, the mean with its bounds. */
import type { Reasons, Team } from "../../api/types";
import { ink } from "../../shared/theme";
import { useHatch } from "../../drawing/Hatch";
import { MarkShape } from "../../drawing/TeamMark";
import { tickLabel, ticks } from "../../drawing/ticks";
import { scoreText, type ScoreAxis } from "./scoreAxis";
import { ChartFrame } from "./ChartFrame";

const W = 610;
const LEFT = 128;
const ROW = 74;
const SURE = {
  clear: "Clear.",
  likely: "Likely, not clear.",
  too_close: "Too close to call.",
  cannot_say: "Cannot be said yet.",
} as const;

interface Props {
  name: string;
  effect: NonNullable<Reasons["factor"]>;
  axis: ScoreAxis;
  teams: ReadonlyMap<number, Team>;
}

export function FactorStrip({ name, effect, axis, teams }: Props) {
  const hatch = useHatch(ink.held, 7);
  const values = effect.levels.flatMap((level) => [
    ...level.members.flatMap((one) => [one.value, ...one.marks.map((mark) => mark.value)]),
    level.mean?.mean ?? 0,
  ]);
  const most = Math.max(...values, 1e-9) * 1.15;
  const at = (value: number) => LEFT + (Math.min(Math.max(value, 0), most) / most) * (W - LEFT - 20);
  const height = 34 + effect.levels.length * ROW;
  return (
    <ChartFrame
      title={`Did ${name} make the difference?`}
      says={
        <>
          <b>{SURE[effect.sure]}</b> {effect.says} {effect.because}
          {effect.confounders.length > 0 && (
            <div>
              <b style={{ color: ink.watch }}>Went along with it:</b> {effect.confounders.join(" ")}
            </div>
          )}
        </>
      }
      file="factor"
      head={["Level", "Team", "Result", "Trials"]}
      rows={effect.levels.flatMap((level) =>
        level.members.map((one) => [
          level.name,
          teams.get(one.design)?.name ?? "",
          (one.at_least ? "at least " : "") + scoreText(one.value, axis),
          one.marks.map((mark) => (mark.at_least ? "≥ " : "") + scoreText(mark.value, axis)).join(", "),
        ]),
      )}
    >
      <svg width="100%" viewBox={`0 0 ${W} ${height}`} role="img" aria-label={`Results by ${name}`}>
        <defs>{hatch.pattern}</defs>
        {ticks(most / axis.unit, 5).map((value) => (
          <g key={value}>
            <path d={`M${at(value * axis.unit)} 26V${height}`} stroke={ink.line} strokeWidth={1.2} />
            <text
              x={at(value * axis.unit)}
              y={18}
              textAnchor={value === 0 ? "start" : "middle"}
              fontSize={15}
              fill={ink.soft}
            >
              {tickLabel(value)} {axis.symbol}
            </text>
          </g>
        ))}
        {effect.levels.map((level, i) => {
          const y = 34 + i * ROW;
          const mean = level.mean;
          return (
            <g key={level.name}>
              <text x={0} y={y + 30} fontSize={18} fontWeight={700} fill={ink.ink}>
                {level.name.length > 14 ? `${level.name.slice(0, 13)}…` : level.name}
              </text>
              <text x={0} y={y + 50} fontSize={14} fill={ink.soft}>
                {level.members.length === 1 ? "1 design" : `${level.members.length} designs`}
              </text>
              {mean && mean.low !== null && mean.high !== null && (
                <rect
                  x={at(mean.low)}
                  y={y + 8}
                  width={at(mean.high) - at(mean.low)}
                  height={ROW - 20}
                  fill={hatch.fill}
                  opacity={0.45}
                />
              )}
              {mean && (
                <path d={`M${at(mean.mean)} ${y + 4}v${ROW - 12}`} stroke={ink.held} strokeWidth={4} />
              )}
              {mean && (
                <text x={at(mean.mean) + 6} y={y + ROW - 4} fontSize={14} fontWeight={600} fill={ink.held}>
                  {level.at_least ? "≥ " : ""}
                  {scoreText(mean.mean, axis)}
                </text>
              )}
              {level.members.map((one, k) => {
                const team = teams.get(one.design);
                const dy = y + 20 + (k % 3) * 13;
                return (
                  <g key={one.design}>
                    {one.marks.map((mark, m) => (
                      <circle
                        key={m}
                        cx={at(mark.value)}
                        cy={dy}
                        r={3.4}
                        fill={mark.at_least ? ink.paper : ink.ink}
                        stroke={ink.ink}
                        strokeWidth={1.4}
                      />
                    ))}
                    {team && (
                      <g transform={`translate(${at(one.value)} ${dy})`}>
                        <MarkShape team={team} size={17} />
                      </g>
                    )}
                  </g>
                );
              })}
            </g>
          );
        })}
      </svg>
    </ChartFrame>
  );
}
