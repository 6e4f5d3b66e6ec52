/** A set-up or a draft to scale, from shapes in metres that the rules draw. Only the scale is worked out here. */
import { useId } from "react";
import type { Drawing } from "../api/types";
import { useUnits } from "../shared/units";
import { formatLength } from "../shared/format";
import { ink } from "../shared/theme";
import { Drawn } from "./Drawn";
import { fit } from "./scale";

interface Props {
  drawing: Drawing;
  width: number;
  height: number;
  /** Without dimensions, as a mark for a list. */
  plain?: boolean;
  /** Room at the edges for labels [px]. */
  room?: number;
}

export function SetupDrawing({ drawing, width, height, plain = false, room = plain ? 3 : 30 }: Props) {
  const units = useUnits();
  const hatch = useId();
  const scale = fit(drawing, width, height, room);
  return (
    <svg
      width="100%"
      height="100%"
      viewBox={`0 0 ${width} ${height}`}
      role="img"
      aria-label={drawing.says}
      data-per-metre={scale.perM}
      style={{ display: "block" }}
    >
      <HatchDefs id={hatch} />
      {drawing.shapes
        .filter((shape) => !(plain && shape.kind === "measure"))
        .map((shape, i) => (
          <Drawn
            key={i}
            shape={shape}
            scale={scale}
            hatch={`url(#${hatch})`}
            thin={plain}
            words={formatLength(shape.length_m, units)}
          />
        ))}
    </svg>
  );
}

/** The hatching that supports are filled with. */
export function HatchDefs({ id }: { id: string }) {
  return (
    <defs>
      <pattern id={id} width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <path d="M0 0v7" stroke={ink.ink} strokeWidth="1" opacity="0.45" />
      </pattern>
    </defs>
  );
}
