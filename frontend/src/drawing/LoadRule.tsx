/** The load as a rule along the foot of the bench: held, this step, and what it is measured against. */
import { ink } from "../shared/theme";
import { useHatch } from "./Hatch";
import { placeLabels, rowsOf } from "./labels";
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

/** Room for two rows of labels above the bar; with more of them all moves down. */
const HEIGHT = 92;
const FOOT = 62;
const BAR = 24;
const SIZE = 15;
const ROW = 14;

export function LoadRule({ heldKg, onKg, marks, expected, unitKg, symbol, width }: Props) {
  const hatch = useHatch(ink.watch, 8);
  const left = 6;
  const right = 60;
  const most = Math.max(onKg * 1.12, ...marks.map((mark) => mark.kg * 1.06), 0.05);
  const at = (kg: number) => left + (Math.min(kg, most) / most) * (width - left - right);
  const drawn = placeLabels(
    marks.map((mark) => ({ text: mark.label, at: at(mark.kg) })),
    SIZE,
    [0, width],
  );
  const more = ROW * Math.max(0, rowsOf(drawn) - 2);
  const base = FOOT + more;
  return (
    <svg
      width={width}
      height={HEIGHT + more}
      viewBox={`0 0 ${width} ${HEIGHT + more}`}
      role="img"
      aria-label="Load held, on a scale"
    >
      <defs>{hatch.pattern}</defs>
      {expected && (
        <rect
          x={at(expected.low)}
          y={base - BAR - 5}
          width={Math.max(0, at(expected.high) - at(expected.low))}
          height={BAR + 5}
          fill={hatch.fill}
          opacity={0.5}
        />
      )}
      <rect x={left} y={base - BAR} width={at(heldKg) - left} height={BAR} fill={ink.held} />
      {onKg > heldKg && (
        <rect
          x={at(heldKg)}
          y={base - BAR}
          width={at(onKg) - at(heldKg)}
          height={BAR}
          fill={ink.watchPale}
          stroke={ink.watchFill}
          strokeWidth={2.5}
        />
      )}
      <path d={`M${left} ${base}H${width - right}`} stroke={ink.ink} strokeWidth={2} />
      {ticks(most / unitKg, 10).map((value) => (
        <g key={value}>
          <path d={`M${at(value * unitKg)} ${base}v6`} stroke={ink.ink} strokeWidth={2} />
          <text
            x={at(value * unitKg)}
            y={base + 23}
            textAnchor={value === 0 ? "start" : "middle"}
            fontSize={16}
            fontWeight={600}
            fill={ink.ink}
          >
            {tickLabel(value)}
          </text>
        </g>
      ))}
      <text x={width - right + 12} y={base + 6} fontSize={18} fontWeight={700} fill={ink.ink}>
        {symbol}
      </text>
      {drawn.map((mark) => (
        <g key={mark.text}>
          <path
            d={`M${mark.at} ${base}V${base - BAR - 8 - mark.level * ROW}`}
            stroke={ink.ink}
            strokeWidth={1.5}
            strokeDasharray="4 3"
          />
          <text
            x={mark.middle}
            y={base - BAR - 11 - mark.level * ROW}
            textAnchor="middle"
            fontSize={SIZE}
            fontWeight={600}
            fill={ink.ink}
          >
            {mark.text}
          </text>
        </g>
      ))}
    </svg>
  );
}
