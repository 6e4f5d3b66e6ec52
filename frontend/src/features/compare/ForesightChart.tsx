/** What was said beforehand, by the team and by the model, against what came. */
import type { Reasons, Team } from "../../api/types";
import { formatMass, formatPercent, POUND_KG } from "../../shared/format";
import { ink } from "../../shared/theme";
import { useUnits } from "../../shared/units";
import { useHatch } from "../../drawing/Hatch";
import { MarkShape } from "../../drawing/TeamMark";
import { tickLabel, ticks } from "../../drawing/ticks";
import { ChartFrame } from "./ChartFrame";

const W = 610;
const LEFT = 128;
const ROW = 34;
const VERDICT = { right: "right", too_high: "too much", too_low: "too little", open: "still open" } as const;

export function ForesightChart({ reasons, teams }: { reasons: Reasons; teams: ReadonlyMap<number, Team> }) {
  const units = useUnits();
  const hatch = useHatch(ink.held, 6);
  const said = new Map(reasons.teams.map((one) => [one.design, one]));
  const model = new Map(reasons.model.map((one) => [one.design, one]));
  const ids = [...new Set([...said.keys(), ...model.keys()])];
  if (ids.length === 0) return null;
  const all = [...reasons.teams, ...reasons.model];
  const most = Math.max(...all.flatMap((one) => [one.said_kg, one.bounds.high ?? one.held_kg])) * 1.1;
  const at = (kg: number) => LEFT + (Math.min(kg, most) / most) * (W - LEFT - 20);
  const unit = units === "us" ? POUND_KG : 1;
  const height = 34 + ids.length * ROW + 6;
  const off = (one: (typeof all)[number] | undefined) =>
    one
      ? `${formatMass(one.said_kg, units)}, ${VERDICT[one.verdict]}${one.error === null ? "" : ` (${one.error < 0 ? "−" : "+"}${formatPercent(Math.abs(one.error))})`}`
      : "–";
  return (
    <ChartFrame
      title="Who foresaw it?"
      says={`${reasons.teams_say} ${reasons.model.length > 0 ? reasons.model_says : ""}`}
      file="foresight"
      head={["Team", "Held", "The team said", "The model said"]}
      rows={ids.map((id) => {
        const held = said.get(id) ?? model.get(id);
        return [
          teams.get(id)?.name ?? "",
          held ? (held.bounds.high === null ? "at least " : "") + formatMass(held.held_kg, units) : "",
          off(said.get(id)),
          off(model.get(id)),
        ];
      })}
    >
      <svg width="100%" viewBox={`0 0 ${W} ${height}`} role="img" aria-label="Predictions against results">
        <defs>{hatch.pattern}</defs>
        {ticks(most / unit, 5).map((value) => (
          <g key={value}>
            <path d={`M${at(value * unit)} 26V${height}`} stroke={ink.line} strokeWidth={1.2} />
            <text
              x={at(value * unit)}
              y={18}
              textAnchor={value === 0 ? "start" : "middle"}
              fontSize={15}
              fill={ink.soft}
            >
              {tickLabel(value)} {units === "us" ? "lb" : "kg"}
            </text>
          </g>
        ))}
        {ids.map((id, i) => {
          const y = 34 + i * ROW;
          const team = teams.get(id);
          const held = said.get(id) ?? model.get(id);
          const guess = said.get(id);
          const drawn = model.get(id);
          return (
            <g key={id}>
              {team && (
                <g transform={`translate(10 ${y + 14})`}>
                  <MarkShape team={team} size={17} />
                </g>
              )}
              <text x={26} y={y + 20} fontSize={16} fontWeight={600} fill={ink.ink}>
                {team?.name}
              </text>
              {held && (
                <>
                  <rect x={LEFT} y={y + 7} width={at(held.held_kg) - LEFT} height={15} fill={ink.held} />
                  <rect
                    x={at(held.held_kg)}
                    y={y + 7}
                    width={Math.max(
                      0,
                      (held.bounds.high === null ? W - 20 : at(held.bounds.high)) - at(held.held_kg),
                    )}
                    height={15}
                    fill={hatch.fill}
                  />
                </>
              )}
              {drawn && (
                <path
                  d={`M${at(drawn.said_kg) - 8} ${y + 14.5}l8 -9l8 9l-8 9z`}
                  fill={ink.sheet}
                  stroke={ink.ink}
                  strokeWidth={2.2}
                />
              )}
              {guess && (
                <circle
                  cx={at(guess.said_kg)}
                  cy={y + 14.5}
                  r={7.5}
                  fill={ink.watchFill}
                  stroke={ink.ink}
                  strokeWidth={2}
                />
              )}
            </g>
          );
        })}
      </svg>
      <p style={{ margin: 0, color: ink.soft }}>
        Bar: held, hatched what is not known. ● the team said
        {reasons.model.length > 0 && ", ◇ the model said"}.
      </p>
    </ChartFrame>
  );
}
