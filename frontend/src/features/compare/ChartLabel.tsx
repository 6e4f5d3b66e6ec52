/** A team's name in a chart, on a ground of paper so that it can be read over lines. */
import { ink } from "../../shared/theme";
import type { placeLabels } from "./rays";

type Placed = ReturnType<typeof placeLabels>[number];

export function ChartLabel({ label, size }: { label: Placed | undefined; size: number }) {
  return label ? (
    <text
      x={label.x}
      y={label.y}
      textAnchor={label.anchor}
      fontSize={size}
      fontWeight={600}
      stroke={ink.paper}
      strokeWidth={4}
      paintOrder="stroke"
      fill={ink.ink}
    >
      {label.text}
    </text>
  ) : null;
}
