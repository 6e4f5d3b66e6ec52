/** One shape of a drawing: its role gives it colour, line and pattern, never colour alone. */
import type { DrawnShape } from "../api/types";
import { condensed, ink } from "../shared/theme";
import type { Scale } from "./scale";

type Role = DrawnShape["role"];

const FILL: Partial<Record<Role, string>> = {
  ground: ink.soft,
  support: ink.stone,
  structure: ink.card,
  load: ink.steel,
  water: "#cfe3e2",
  hole: ink.paper,
  weakest: ink.oxide,
  good: ink.held,
};

/** Lines: colour, width, dashes. Pulled members are thin and plain, squeezed ones thick and striped. */
const LINE: Partial<Record<Role, { colour: string; width: number; dash?: string }>> = {
  structure: { colour: ink.ink, width: 3.2 },
  fold: { colour: ink.soft, width: 1.3, dash: "7 5" },
  axis: { colour: ink.oxide, width: 1.3, dash: "11 4 2 4" },
  tension: { colour: "#1d5f8a", width: 3 },
  compression: { colour: ink.ink, width: 6.5 },
  slack: { colour: ink.steel, width: 1.6, dash: "3 4" },
  weakest: { colour: ink.watchFill, width: 13 },
  ghost: { colour: ink.soft, width: 1.2, dash: "4 4" },
};

interface Props {
  shape: DrawnShape;
  scale: Scale;
  hatch: string;
  thin: boolean;
  /** Length of a dimension in the reader's units. */
  words: string;
}

export function Drawn({ shape, scale, hatch, thin, words }: Props) {
  const { role } = shape;
  const points = shape.points.map(([x = 0, y = 0]) => scale.at(x, y));
  const listed = points.map(([x, y]) => `${x.toFixed(2)},${y.toFixed(2)}`).join(" ");
  const [first, last] = [points[0] ?? [0, 0], points[points.length - 1] ?? [0, 0]];
  const bare = role === "water" || role === "ground" || role === "good";
  const common = {
    fill: FILL[role] ?? "none",
    stroke: bare ? "none" : role === "ghost" || role === "fold" ? ink.soft : ink.ink,
    strokeWidth: thin ? 1 : 1.6,
  };
  switch (shape.kind) {
    case "area":
      return (
        <>
          <polygon points={listed} {...common} />
          {role === "support" && <polygon points={listed} fill={hatch} />}
        </>
      );
    case "line":
      if (role === "arrow") return <Arrow from={first} to={last} />;
      return <Stroke listed={listed} role={role} thin={thin} name={shape.key} />;
    case "circle":
      return (
        <circle
          cx={first[0]}
          cy={first[1]}
          r={shape.radius_m * scale.perM}
          {...common}
          strokeDasharray={role === "ghost" || role === "fold" ? "5 5" : undefined}
          data-joint={shape.key || undefined}
        />
      );
    case "measure":
      return <Dimension from={first} to={last} words={`${shape.text} ${words}`.trim()} width={scale.width} />;
    case "label":
      return (
        <Words at={first} words={shape.text} colour={role === "axis" ? ink.oxide : ink.ink} small={thin} />
      );
  }
}

function Stroke({ listed, role, thin, name }: { listed: string; role: Role; thin: boolean; name: string }) {
  const { colour, width, dash } = LINE[role] ?? { colour: ink.ink, width: 1 };
  const common = {
    points: listed,
    fill: "none",
    strokeLinejoin: "round" as const,
    strokeLinecap: "round" as const,
  };
  return (
    <g data-member={name || undefined}>
      <polyline
        {...common}
        stroke={colour}
        strokeWidth={thin ? Math.min(1.6, width) : width}
        strokeDasharray={dash}
      />
      {role === "compression" && !thin && (
        <polyline
          {...common}
          strokeLinecap="butt"
          stroke={ink.paper}
          strokeWidth={2.2}
          strokeDasharray="4 5"
        />
      )}
    </g>
  );
}

function Arrow({ from, to }: { from: readonly number[]; to: readonly number[] }) {
  const [x0 = 0, y0 = 0] = from;
  const [x1 = 0, y1 = 0] = to;
  const length = Math.hypot(x1 - x0, y1 - y0) || 1;
  const [ux, uy] = [(x1 - x0) / length, (y1 - y0) / length];
  const head = Math.min(12, length * 0.6);
  const [bx, by] = [x1 - ux * head, y1 - uy * head];
  return (
    <g fill={ink.oxide} stroke={ink.oxide}>
      <path d={`M${x0} ${y0}L${bx} ${by}`} strokeWidth={2.6} fill="none" />
      <path
        d={`M${x1} ${y1}L${bx - uy * head * 0.45} ${by + ux * head * 0.45}L${bx + uy * head * 0.45} ${by - ux * head * 0.45}z`}
        stroke="none"
      />
    </g>
  );
}

function Words(props: { at: readonly number[]; words: string; colour: string; small: boolean }) {
  const [x = 0, y = 0] = props.at;
  return (
    <text
      x={x}
      y={y - 4}
      textAnchor="middle"
      fontSize={props.small ? 13 : 15}
      fill={props.colour}
      stroke={ink.paper}
      strokeWidth={3}
      paintOrder="stroke"
    >
      {props.words}
    </text>
  );
}

function Dimension(props: { from: readonly number[]; to: readonly number[]; words: string; width: number }) {
  const [x0 = 0, y0 = 0] = props.from;
  const [x1 = 0, y1 = 0] = props.to;
  const upright = Math.abs(x1 - x0) < Math.abs(y1 - y0);
  const [tx, ty] = upright ? [6, 0] : [0, 6];
  const [mx, my] = [(x0 + x1) / 2, (y0 + y1) / 2];
  // A short upright dimension has its words beside it, or they would cover what they measure.
  const beside = upright && Math.abs(y1 - y0) < 9 * props.words.length;
  const leftOf = beside && mx + 10 + 9 * props.words.length > props.width;
  return (
    <g stroke={ink.oxide} strokeWidth={1.6}>
      <path
        data-dimension={props.words}
        d={`M${x0} ${y0}L${x1} ${y1}M${x0 - tx} ${y0 - ty}L${x0 + tx} ${y0 + ty}M${x1 - tx} ${y1 - ty}L${x1 + tx} ${y1 + ty}`}
        fill="none"
      />
      <text
        x={leftOf ? mx - 10 : beside ? mx + 10 : mx}
        y={beside ? my + 7 : my - 7}
        textAnchor={leftOf ? "end" : beside ? "start" : "middle"}
        fontFamily={condensed}
        fontWeight={700}
        fontSize={beside ? 19 : 22}
        fill={ink.oxide}
        stroke={ink.paper}
        strokeWidth={4}
        paintOrder="stroke"
        transform={upright && !beside ? `rotate(-90 ${mx} ${my})` : undefined}
      >
        {props.words}
      </text>
    </g>
  );
}
