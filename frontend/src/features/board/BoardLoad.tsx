/** The load as a thick bar against target, prediction and best so far; hatched is what waits. */
import type { BenchShown, BoardState } from "../../api/types";
import { useHatch } from "../../drawing/Hatch";
import { board } from "./boardTheme";

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
  return (
    <svg width="100%" viewBox={`0 0 ${width} 112`} role="img" aria-label="Load held, on a scale">
      <defs>{hatch.pattern}</defs>
      {estimate && (
        <rect
          x={at(estimate.low_kg)}
          y={76}
          width={Math.max(2, at(estimate.high_kg) - at(estimate.low_kg))}
          height={8}
          fill={board.soft}
          opacity={0.6}
        />
      )}
      <rect x={0} y={40} width={at(result.held_kg)} height={34} fill={board.held} />
      {result.load_on_kg > result.held_kg && (
        <rect
          x={at(result.held_kg)}
          y={40}
          width={at(result.load_on_kg) - at(result.held_kg)}
          height={34}
          fill={hatch.fill}
          stroke={board.watch}
          strokeWidth={2.5}
        />
      )}
      <path d={`M0 75H${width}`} stroke={board.text} strokeWidth={2} />
      {marks.map((mark, i) => (
        <g key={mark.label}>
          <path
            d={`M${at(mark.kg)} ${i % 2 ? 12 : 30}V76`}
            stroke={board.text}
            strokeWidth={2}
            strokeDasharray="6 4"
          />
          <text
            x={at(mark.kg) - 6}
            y={i % 2 ? 16 : 34}
            textAnchor="end"
            fontSize={21}
            fontWeight={600}
            fill={board.text}
          >
            {mark.label}
          </text>
        </g>
      ))}
      {estimate && (
        <text x={at(estimate.low_kg)} y={106} fontSize={18} fill={board.soft}>
          expected, from {estimate.basis}
        </text>
      )}
    </svg>
  );
}
