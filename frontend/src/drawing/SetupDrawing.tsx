/** A set-up to scale, from shapes in metres that the rules draw. Nothing is worked out here but the scale. */
import { useId } from "react";
import type { Drawing, DrawnShape } from "../api/types";
import { formatLength } from "../app/format";
import { condensed, ink } from "../app/theme";
import { useUnits } from "../app/units";
import { fit, type Scale } from "./scale";

interface Props {
  drawing: Drawing;
  width: number;
  height: number;
  /** Without dimensions, as a mark for a list. */
  plain?: boolean;
}

export function SetupDrawing({ drawing, width, height, plain = false }: Props) {
  const units = useUnits();
  const hatch = useId();
  const scale = fit(drawing, width, height, plain ? 3 : 30);
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
      <defs>
        <pattern id={hatch} width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <path d="M0 0v7" stroke={ink.ink} strokeWidth="1" opacity="0.45" />
        </pattern>
      </defs>
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

const FILL: Record<DrawnShape["role"], string> = {
  ground: ink.soft,
  support: ink.stone,
  structure: ink.card,
  load: ink.steel,
  water: "#cfe3e2",
  ghost: "none",
};

function Drawn(props: { shape: DrawnShape; scale: Scale; hatch: string; thin: boolean; words: string }) {
  const { shape, scale, hatch, thin, words } = props;
  const points = shape.points.map(([x = 0, y = 0]) => scale.at(x, y));
  const listed = points.map(([x, y]) => `${x.toFixed(2)},${y.toFixed(2)}`).join(" ");
  const stroke = shape.role === "water" || shape.role === "ground" ? "none" : ink.ink;
  const [first, last] = [points[0] ?? [0, 0], points[points.length - 1] ?? [0, 0]];
  const common = { fill: FILL[shape.role], stroke, strokeWidth: thin ? 1 : 1.6 };
  switch (shape.kind) {
    case "area":
      return (
        <>
          <polygon points={listed} {...common} />
          {shape.role === "support" && <polygon points={listed} fill={hatch} />}
        </>
      );
    case "line":
      return (
        <polyline
          points={listed}
          fill="none"
          stroke={ink.ink}
          strokeWidth={shape.role === "structure" ? (thin ? 1.6 : 4) : 1}
          strokeLinecap="round"
          strokeLinejoin="round"
        />
      );
    case "circle":
      return <circle cx={first[0]} cy={first[1]} r={shape.radius_m * scale.perM} {...common} />;
    case "measure":
      return <Dimension from={first} to={last} words={`${shape.text} ${words}`.trim()} />;
  }
}

function Dimension(props: { from: readonly number[]; to: readonly number[]; words: string }) {
  const [x0 = 0, y0 = 0] = props.from;
  const [x1 = 0, y1 = 0] = props.to;
  const upright = Math.abs(x1 - x0) < Math.abs(y1 - y0);
  const [tx, ty] = upright ? [6, 0] : [0, 6];
  const [mx, my] = [(x0 + x1) / 2, (y0 + y1) / 2];
  return (
    <g stroke={ink.oxide} strokeWidth={1.6}>
      <path
        data-dimension={props.words}
        d={`M${x0} ${y0}L${x1} ${y1}M${x0 - tx} ${y0 - ty}L${x0 + tx} ${y0 + ty}M${x1 - tx} ${y1 - ty}L${x1 + tx} ${y1 + ty}`}
        fill="none"
      />
      <text
        x={mx}
        y={my - 7}
        textAnchor="middle"
        fontFamily={condensed}
        fontWeight={700}
        fontSize={22}
        fill={ink.oxide}
        stroke={ink.paper}
        strokeWidth={4}
        paintOrder="stroke"
        transform={upright ? `rotate(-90 ${mx} ${my})` : undefined}
      >
        {props.words}
      </text>
    </g>
  );
}
