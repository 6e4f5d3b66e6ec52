/** Every way a design can fail, as a bar: solid to the low end, hatched to the high end, the middle ticked. */
import { Box } from "@mui/material";
import type { LimitState } from "../api/types";
import { formatLoad, GRAVITY, POUND_KG } from "../shared/format";
import { ink } from "../shared/theme";
import { useUnits } from "../shared/units";
import { useHatch } from "./Hatch";
import { ladderEnd } from "./ladderScale";
import { tickLabel, ticks } from "./ticks";

interface Props {
  states: readonly LimitState[];
  push: boolean;
  mark: { newtons: number; words: string } | null;
  chosen: string;
  onChoose: (key: string) => void;
  width?: number;
}

const ROW = 52;
const TOP = 26;

export function Ladder({ states, push, mark, chosen, onChoose, width = 520 }: Props) {
  const units = useUnits();
  const oxide = useHatch(ink.oxide);
  const dark = useHatch(ink.ink);
  const unit = push ? 1 : units === "us" ? POUND_KG * GRAVITY : GRAVITY;
  const symbol = push ? "N" : units === "us" ? "lb" : "kg";
  const end = ladderEnd(states, mark?.newtons ?? null);
  const marks = ticks(end / unit, 5);
  const span = width - 26;
  const at = (newtons: number) => Math.min(span, (newtons / end) * span);
  const height = TOP + states.length * ROW + 26;
  return (
    <Box>
      <svg
        width="100%"
        viewBox={`0 0 ${width} ${height}`}
        role="group"
        aria-label="Every way it can fail, weakest first"
      >
        <defs>
          {oxide.pattern}
          {dark.pattern}
        </defs>
        {marks.map((value) => (
          <g key={value}>
            <path d={`M${at(value * unit)} ${TOP - 6}V${height - 22}`} stroke={ink.line} strokeWidth={1.2} />
            <text
              x={at(value * unit)}
              y={height - 6}
              textAnchor={value === 0 ? "start" : "middle"}
              fontSize={14}
              fill={ink.soft}
            >
              {tickLabel(value)} {symbol}
            </text>
          </g>
        ))}
        {mark && mark.newtons > 0 && (
          <g>
            <path
              d={`M${at(mark.newtons)} ${TOP - 8}V${height - 22}`}
              stroke={ink.held}
              strokeWidth={2.5}
              strokeDasharray="7 4"
            />
            <text
              x={Math.min(
                Math.max(at(mark.newtons), 3.7 * mark.words.length),
                width - 3.7 * mark.words.length,
              )}
              y={12}
              textAnchor="middle"
              fontSize={14}
              fontWeight={600}
              fill={ink.held}
            >
              {mark.words}
            </text>
          </g>
        )}
        {states.map((state, i) => {
          const first = i === 0;
          const colour = first ? ink.oxide : ink.ink;
          const y = TOP + i * ROW;
          const low = state.low_n ?? Infinity;
          const high = state.high_n ?? Infinity;
          const beyond = low > end;
          const words = state.by_itself
            ? "its own weight is enough"
            : beyond
              ? `from ${formatLoad(low, push, units)}`
              : `${formatLoad(low, push, units)} to ${high > 50 * end ? "any load" : formatLoad(high, push, units)}`;
          return (
            <g
              key={state.key}
              role="button"
              tabIndex={0}
              aria-pressed={chosen === state.key}
              aria-label={`${state.name}: ${words}`}
              data-state={state.key}
              style={{ cursor: "pointer" }}
              onClick={() => onChoose(state.key)}
              onKeyDown={(event) => {
                if (event.key === "Enter" || event.key === " ") {
                  event.preventDefault();
                  onChoose(state.key);
                }
              }}
            >
              <rect
                x={0}
                y={y - 2}
                width={width}
                height={ROW - 4}
                fill={chosen === state.key ? ink.sheet : "transparent"}
                opacity={0.6}
              />
              <text x={4} y={y + 15} fontSize={17} fontWeight={700} fill={colour}>
                {state.name}
              </text>
              <text x={width - 4} y={y + 15} textAnchor="end" fontSize={14} fill={ink.soft}>
                {words}
              </text>
              <rect x={0} y={y + 21} width={Math.max(2, at(low))} height={16} fill={colour} />
              {beyond ? (
                <path d={`M${span} ${y + 21}l14 8l-14 8z`} fill={colour} />
              ) : (
                <>
                  <rect
                    x={at(low)}
                    y={y + 21}
                    width={Math.max(1, at(high) - at(low))}
                    height={16}
                    fill={first ? oxide.fill : dark.fill}
                    stroke={colour}
                    strokeWidth={1.4}
                  />
                  {state.typical_n !== null && state.typical_n < end && (
                    <path d={`M${at(state.typical_n)} ${y + 17}v24`} stroke={colour} strokeWidth={3.5} />
                  )}
                </>
              )}
            </g>
          );
        })}
      </svg>
    </Box>
  );
}
