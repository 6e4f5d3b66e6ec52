/** How one quantity follows another: the curve, where this draft stands on it, and what is worth a mark. */
import type { DraftCurve } from "../api/types";
import { formatFact } from "../shared/format";
import { condensed, ink } from "../shared/theme";
import { useUnits } from "../shared/units";
import { curveScale } from "./curveScale";

export function CurveChart({
  curve,
  width = 330,
  height = 190,
}: {
  curve: DraftCurve;
  width?: number;
  height?: number;
}) {
  const units = useUnits();
  const { at, path, right, top } = curveScale(curve, width, height);
  const here = curve.here && at(curve.here[0] ?? 0, curve.here[1] ?? 0);
  return (
    <svg
      width="100%"
      viewBox={`0 0 ${width} ${height}`}
      role="img"
      aria-label={`${curve.title}: ${curve.up} over ${curve.across}`}
    >
      <text x={0} y={15} fontSize={16} fontWeight={700} fill={ink.ink}>
        {curve.title}
      </text>
      <path
        d={`M${at(0, 0)[0]} 26V${at(0, 0)[1]}H${width - 6}`}
        fill="none"
        stroke={ink.ink}
        strokeWidth={1.6}
      />
      <text x={4} y={36} fontSize={13} fill={ink.soft}>
        {curve.up}, to {formatFact(top, curve.up_kind, units)}
      </text>
      <text x={width - 6} y={height - 4} textAnchor="end" fontSize={13} fill={ink.soft}>
        {curve.across}, to {formatFact(right, curve.across_kind, units)}
      </text>
      <path d={path} fill="none" stroke={ink.ink} strokeWidth={2.6} strokeLinejoin="round" />
      {curve.marks.map((mark) => {
        const [x, y] = at(mark.at[0] ?? 0, mark.at[1] ?? 0);
        return (
          <g key={mark.words}>
            <path
              d={`M${x} ${y - 6}V${at(0, 0)[1]}`}
              stroke={ink.held}
              strokeWidth={1.8}
              strokeDasharray="5 4"
            />
            <text
              x={x < width / 2 ? x + 6 : x - 6}
              y={at(0, 0)[1] - 8}
              textAnchor={x < width / 2 ? "start" : "end"}
              fontSize={13}
              fontWeight={600}
              fill={ink.held}
              stroke={ink.paper}
              strokeWidth={3}
              paintOrder="stroke"
            >
              {mark.words}
            </text>
          </g>
        );
      })}
      {here && (
        <g>
          <path d={`M${here[0] - 7} ${here[1]}l7 -7l7 7l-7 7z`} fill={ink.oxide} />
          <text
            x={here[0] + (here[0] < width - 60 ? 11 : -11)}
            y={here[1] + 19}
            textAnchor={here[0] < width - 60 ? "start" : "end"}
            fontFamily={condensed}
            fontSize={15}
            fontWeight={700}
            fill={ink.oxide}
            stroke={ink.paper}
            strokeWidth={3}
            paintOrder="stroke"
          >
            here
          </text>
        </g>
      )}
    </svg>
  );
}
