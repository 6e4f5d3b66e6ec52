/** The load as a thick bar against target, prediction and best so far; hatched is what waits. */
import type { BenchShown, BoardState } from "../../api/types";
import { useHatch } from "../../drawing/Hatch";
import { placeLabels, rowsOf } from "../../drawing/labels";
import { board } from "./boardTheme";

/** The size of a label, and how far its rows lie apart. */
const SIZE = 24;
const ROW = 27;

export function BoardLoad({ state, bench, width }: { state: BoardState; bench: BenchShown; width: number }) {
  const hatch = useHatch(board.watch, 9);
  const { result, estimate, prediction_kg } = bench.state;
  const marks = [
    ...state.aims,
    ...(prediction_kg ? [{ kg: prediction_kg, label: `team says ${bench.state.prediction_says}` }] : []),
  ].sort((a, b) => a.kg - b.kg);
  const most = Math.max(
    result.load_on_kg * 1.1,
    ...marks.map((mark) => mark.kg * 1.1),
    estimate?.high_kg ?? 0,
    0.02,
  );
  const at = (kg: number) => (Math.min(kg, most) / most) * (width - 10);
  const placed = placeLabels(
    marks.map((mark) => ({ text: mark.label, at: at(mark.kg) })),
    SIZE,
    [0, width],
  );
  // The bar moves down as far as the rows of labels above it ask for.
  const top = 14 + ROW * rowsOf(placed);
  const foot = top + 35;
  return (
    <svg width="100%" viewBox={`0 0 ${width} ${foot + 38}`} role="img" aria-label="Load held, on a scale">
      <defs>{hatch.pattern}</defs>
      {estimate && (
        <rect
          x={at(estimate.low_kg)}
          y={foot + 1}
          width={Math.max(2, at(estimate.high_kg) - at(estimate.low_kg))}
          height={8}
          fill={board.soft}
          opacity={0.6}
        />
      )}
      <rect x={0} y={top} width={at(result.held_kg)} height={34} fill={board.held} />
      {result.load_on_kg > result.held_kg && (
        <rect
          x={at(result.held_kg)}
          y={top}
          width={at(result.load_on_kg) - at(result.held_kg)}
          height={34}
          fill={hatch.fill}
          stroke={board.watch}
          strokeWidth={2.5}
        />
      )}
      <path d={`M0 ${foot}H${width}`} stroke={board.text} strokeWidth={2} />
      {placed.map((mark) => (
        <g key={mark.text}>
          <path
            d={`M${mark.at} ${top - 8 - ROW * mark.level}V${foot + 1}`}
            stroke={board.text}
            strokeWidth={2}
            strokeDasharray="6 4"
          />
          <text
            x={mark.middle}
            y={top - 13 - ROW * mark.level}
            textAnchor="middle"
            fontSize={SIZE}
            fontWeight={600}
            fill={board.text}
          >
            {mark.text}
          </text>
        </g>
      ))}
      {estimate && (
        <text x={at(estimate.low_kg)} y={foot + 31} fontSize={20} fill={board.soft}>
          expected, from {estimate.basis}
        </text>
      )}
    </svg>
  );
}
