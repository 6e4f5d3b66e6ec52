/** A team's structure over its gap, drawn to scale with what lies on it. */
import type { ComponentProps } from "react";
import type { Design } from "../../api/types";
import { BridgeElevation } from "../../drawing/BridgeElevation";
import { formatLength } from "../../shared/format";
import { useUnits } from "../../shared/units";

type Props = { design: Design } & Pick<
  ComponentProps<typeof BridgeElevation>,
  "stack" | "readLabel" | "sagM" | "broken"
>;

export function DesignSpan({ design, ...load }: Props) {
  const units = useUnits();
  const size = (key: string) => design.sizes[key] ?? 0;
  return (
    <BridgeElevation
      gapM={size("gap")}
      overlapLeftM={size("overlap_left")}
      overlapRightM={size("overlap_right")}
      gapLabel={formatLength(size("gap"), units)}
      {...load}
    />
  );
}
