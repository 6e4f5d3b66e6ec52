/** The ranking: rank range, mark, bar of what was held, hatching for what is not known, and the verdicts between. */
import { Box } from "@mui/material";
import type { Comparison, Ranked } from "../../api/types";
import { formatMass, formatRatio } from "../../shared/format";
import { condensed, ink } from "../../shared/theme";
import { useUnits } from "../../shared/units";
import { useHatch } from "../../drawing/Hatch";
import { MarkShape } from "../../drawing/TeamMark";
import { tickLabel, ticks } from "../../drawing/ticks";
import { axisOf } from "./scoreAxis";

const LEFT = 292;
const RIGHT = 34;
const TOP = 34;

const VERDICT = {
  clear: { word: "clear", colour: ink.held },
  likely: { word: "likely", colour: ink.held },
  too_close: { word: "too close to call", colour: ink.watch },
  cannot_say: { word: "cannot say", colour: ink.watch },
  tied: { word: "share the place", colour: ink.held },
  by_tie_rule: { word: "equal, and lighter", colour: ink.held },
} as const;

const ranksText = ({ ranks }: Ranked) =>
  ranks.best === ranks.worst ? String(ranks.best) : `${ranks.best}–${ranks.worst}`;

export function RankBars({
  comparison,
  survivedKind,
  width = 730,
  rowHeight,
  aims,
}: {
  comparison: Comparison;
  survivedKind: string;
  width?: number;
  rowHeight: number;
  /** What each aim of a mix is called. */
  aims: Readonly<Record<string, string>>;
}) {
  const units = useUnits();
  const hatch = useHatch(ink.held, 7);
  const { unit, symbol } = axisOf(comparison.school, survivedKind, units);
  const loaded = !["tallest", "survived", "left_standing"].includes(comparison.school);
  const rows = comparison.ranked;
  const finite = rows.map((row) => row.score.interval.high ?? row.score.value);
  const most = Math.max(...finite, ...rows.map((row) => row.score.value)) * 1.14;
  const span = width - LEFT - RIGHT;
  const at = (value: number) => LEFT + (value / most) * span;
  const height = TOP + rows.length * rowHeight + 10;
  /** For a mix, what each aim adds, from left to right. */
  const parts = (row: Ranked) => {
    let from = 0;
    return comparison.school === "mix"
      ? Object.entries(row.score.shares).map(([school, points]) => {
          const start = from;
          from += points;
          return { school, points, from: start, words: aims[school] ?? school };
        })
      : [];
  };
  const passes = comparison.school === "threshold";
  const amount = (row: Ranked) =>
    comparison.school === "strength_to_weight"
      ? `${formatRatio(row.score.value)} ×`
      : comparison.school === "mix"
        ? String(Math.round(row.score.value))
        : row.words;
  return (
    <Box>
      <svg
        width="100%"
        viewBox={`0 0 ${width} ${height}`}
        role="img"
        aria-label="Ranking with what is not known hatched"
      >
        <defs>{hatch.pattern}</defs>
        {ticks(most / unit, 6).map((value) => (
          <g key={value}>
            <path d={`M${at(value * unit)} ${TOP - 8}V${height}`} stroke={ink.line} strokeWidth={1.2} />
            <text x={at(value * unit)} y={TOP - 14} textAnchor="middle" fontSize={15} fill={ink.soft}>
              {tickLabel(value)} {symbol}
            </text>
          </g>
        ))}
        {passes && most > 1 && (
          <path
            d={`M${at(1)} ${TOP - 8}V${height}`}
            stroke={ink.oxide}
            strokeWidth={3}
            strokeDasharray="9 5"
          />
        )}
        {rows.map((row, i) => {
          const y = TOP + i * rowHeight + 4;
          const bar = Math.min(34, rowHeight * 0.44);
          const { value, interval } = row.score;
          const open = interval.high === null;
          const end = open ? width - RIGHT : at(interval.high ?? value);
          const verdict = row.against_next && VERDICT[row.against_next.kind];
          return (
            <g key={row.design}>
              <text
                x={0}
                y={y + 26}
                fontFamily={condensed}
                fontWeight={700}
                fontSize={34}
                fill={row.ranks.best === 1 ? ink.oxide : ink.ink}
              >
                {ranksText(row)}
              </text>
              <g transform={`translate(84 ${y + 15})`}>
                <MarkShape team={row.team} size={26} />
              </g>
              <text x={106} y={y + 15} fontWeight={700} fontSize={20} fill={ink.ink}>
                {row.team.name.length > 15 ? `${row.team.name.slice(0, 14)}…` : row.team.name}
                {row.version > 1 && ` v${row.version}`}
              </text>
              <text x={106} y={y + 34} fontSize={15} fill={ink.soft}>
                {loaded && (row.score.at_least ? "at least " : "") + formatMass(row.score.held_kg, units)}
                {loaded && row.mode && !row.score.at_least ? `, ${row.mode.toLowerCase()}` : ""}
                {!loaded &&
                  row.score.self_mass &&
                  `own weight ${formatMass(row.score.self_mass.value, units)}`}
              </text>
              <rect x={LEFT} y={y} width={Math.max(1, at(value) - LEFT)} height={bar} fill={ink.held} />
              {parts(row)
                .slice(1)
                .map((part) => (
                  <path
                    key={part.school}
                    d={`M${at(part.from)} ${y}v${bar}`}
                    stroke={ink.paper}
                    strokeWidth={3}
                  />
                ))}
              {comparison.school === "mix" && (
                <text x={LEFT + 9} y={y + bar + 14} fontSize={13} fill={ink.soft}>
                  {parts(row)
                    .map((part) => `${part.words} ${tickLabel(Number(part.points.toFixed(1)))}`)
                    .join(" + ")}
                </text>
              )}
              {open ? (
                <path
                  d={`M${at(value)} ${y}H${end - 14}L${end} ${y + bar / 2}L${end - 14} ${y + bar}H${at(value)}z`}
                  fill={hatch.fill}
                  stroke={ink.held}
                  strokeWidth={1.5}
                />
              ) : (
                <rect
                  x={at(interval.low)}
                  y={y}
                  width={Math.max(1, end - at(interval.low))}
                  height={bar}
                  fill={hatch.fill}
                  stroke={ink.held}
                  strokeWidth={1.2}
                />
              )}
              <text
                x={LEFT + 9}
                y={y + bar * 0.72}
                fontFamily={condensed}
                fontWeight={700}
                fontSize={bar * 0.72}
                fill="#ffffff"
              >
                {amount(row)}
                {passes && (interval.low >= 1 ? ", passes" : value >= 1 ? ", passes, just" : ", not yet")}
                {row.score.penalised ? " after penalty" : ""}
              </text>
              {open && (
                <text
                  x={end - 20}
                  y={y + bar + 16}
                  textAnchor="end"
                  fontSize={15}
                  fontWeight={600}
                  fill={ink.ink}
                >
                  ran out of load
                </text>
              )}
              {verdict && (
                <text x={LEFT + 9} y={y + rowHeight - 6} fontSize={15} fontWeight={600} fill={verdict.colour}>
                  ↕ {verdict.word}
                </text>
              )}
            </g>
          );
        })}
      </svg>
    </Box>
  );
}
