/** The load as a rule along the foot of the bench: held, this step, and what it is measured against. */
import { ink } from "../shared/theme";
import { useHatch } from "./Hatch";
import { tickLabel, ticks } from "./ticks";

export interface RuleMark {
  label: string;
  kg: number;
}

interface Props {
  heldKg: number;
  onKg: number;
  marks: readonly RuleMark[];
  expected: { low: number; high: number } | null;
  /** Kilograms in one unit of the rule, and the unit's symbol. */
  unitKg: number;
  symbol: string;
  width: number;
}

const HEIGHT = 92;
const BASE = 62;
const BAR = 24;

interface PlacedMark extends RuleMark {
  x: number;
  level: number;
}

/** Labels side by side where they fit, one row up where they would run into each other. */
function withLevels(marks: readonly RuleMark[], at: (kg: number) => number): PlacedMark[] {
  const ends: number[] = [-Infinity, -Infinity];
  return [...marks]
    .sort((a, b) => a.kg - b.kg)
    .map((mark) => {
      const x = at(mark.kg);
      const half = mark.label.length * 3.9 + 4;
      const level = x - half > (ends[0] ?? 0) ? 0 : 1;
      ends[level] = x + half;
      return { ...mark, x, level };
    });
}

export function LoadRule({ heldKg, onKg, marks, expected, unitKg, symbol, width }: Props) {
  const hatch = useHatch(ink.watch, 8);
  const left = 6;
  const right = 60;
  const most = Math.max(onKg * 1.12, ...marks.map((mark) => mark.kg * 1.06), 0.05);
  const at = (kg: number) => left + (Math.min(kg, most) / most) * (width - left - right);
  const drawn = withLevels(marks, at);
  return (
    <svg
      width={width}
      height={HEIGHT}
      viewBox={`0 0 ${width} ${HEIGHT}`}
      role="img"
      aria-label="Load held, on a scale"
    >
      <defs>{hatch.pattern}</defs>
      {expected && (
        <rect
          x={at(expected.low)}
          y={BASE - BAR - 5}
          width={Math.max(0, at(expected.high) - at(expected.low))}
          height={BAR + 5}
          fill={hatch.fill}
          opacity={0.5}
        />
      )}
      <rect x={left} y={BASE - BAR} width={at(heldKg) - left} height={BAR} fill={ink.held} />
      {onKg > heldKg && (
        <rect
          x={at(heldKg)}
          y={BASE - BAR}
          width={at(onKg) - at(heldKg)}
          height={BAR}
          fill={ink.watchPale}
          stroke={ink.watchFill}
          strokeWidth={2.5}
        />
      )}
      <path d={`M${left} ${BASE}H${width - right}`} stroke={ink.ink} strokeWidth={2} />
      {ticks(most / unitKg, 10).map((value) => (
        <g key={value}>
          <path d={`M${at(value * unitKg)} ${BASE}v6`} stroke={ink.ink} strokeWidth={2} />
          <text
            x={at(value * unitKg)}
            y={BASE + 23}
            textAnchor={value === 0 ? "start" : "middle"}
            fontSize={16}
            fontWeight={600}
            fill={ink.ink}
          >
            {tickLabel(value)}
          </text>
        </g>
      ))}
      <text x={width - right + 12} y={BASE + 6} fontSize={18} fontWeight={700} fill={ink.ink}>
        {symbol}
      </text>
      {drawn.map((mark) => (
        <g key={mark.label}>
          <path
            d={`M${mark.x} ${BASE}V${BASE - BAR - 8 - mark.level * 14}`}
            stroke={ink.ink}
            strokeWidth={1.5}
            strokeDasharray="4 3"
          />
          <text
            x={mark.x}
            y={BASE - BAR - 11 - mark.level * 14}
            textAnchor={mark.x > width - right - 70 ? "end" : mark.x < 60 ? "start" : "middle"}
            fontSize={15}
            fontWeight={600}
            fill={ink.ink}
          >
            {mark.label}
          </text>
        </g>
      ))}
    </svg>
  );
}
