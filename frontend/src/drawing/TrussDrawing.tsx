/** A truss whose joints can be dragged, by pointer or by arrow keys; where it may go is for the rules to say. */
import { useId, useRef, useState } from "react";
import type { Drawing, DrawnShape } from "../api/types";
import { formatLength } from "../shared/format";
import { ink } from "../shared/theme";
import { useUnits } from "../shared/units";
import { Drawn } from "./Drawn";
import { HatchDefs } from "./SetupDrawing";
import { fit } from "./scale";

interface Props {
  drawing: Drawing;
  width: number;
  height: number;
  /** Joints that were moved; where they are put counts at once, before the rules have answered. */
  moves: Readonly<Record<string, number[]>>;
  onMove: (joint: string, to: [number, number]) => void;
}

const KEY_STEP_M = 0.005;
const ARROWS: Record<string, readonly [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, 1],
  ArrowDown: [0, -1],
};

export function TrussDrawing({ drawing, width, height, moves, onMove }: Props) {
  const units = useUnits();
  const hatch = useId();
  const svg = useRef<SVGSVGElement>(null);
  const [held, setHeld] = useState<string | null>(null);
  // While a joint is held the scale stands still, so that the drawing does not run away under the pointer.
  const [frozen, setFrozen] = useState<Drawing["box"] | null>(null);
  const scale = fit({ box: frozen ?? drawing.box }, width, height, 34);
  const joints = drawing.shapes.filter((shape) => shape.kind === "circle" && shape.key !== "");
  const members = drawing.shapes.filter((shape) => shape.kind === "line" && shape.key !== "");

  const metres = (event: React.PointerEvent): [number, number] | null => {
    const matrix = svg.current?.getScreenCTM()?.inverse();
    if (!matrix) return null;
    const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(matrix);
    const [x0, y0] = scale.at(0, 0);
    return [round((at.x - x0) / scale.perM), round((y0 - at.y) / scale.perM)];
  };
  return (
    <svg
      ref={svg}
      width="100%"
      height="100%"
      viewBox={`0 0 ${width} ${height}`}
      role="group"
      aria-label={drawing.says}
      data-per-metre={scale.perM}
      style={{ display: "block", touchAction: "none" }}
      onPointerMove={(event) => {
        const to = held && metres(event);
        if (held && to) onMove(held, to);
      }}
      onPointerUp={() => {
        setHeld(null);
        setFrozen(null);
      }}
    >
      <HatchDefs id={hatch} />
      {drawing.shapes.map((shape, i) => (
        <Drawn
          key={i}
          shape={shape}
          scale={scale}
          hatch={`url(#${hatch})`}
          thin={false}
          words={formatLength(shape.length_m, units)}
        />
      ))}
      {members.map((member) => (
        <Force key={member.key} member={member} at={scale.at} />
      ))}
      {joints.map((joint) => {
        const [jx = 0, jy = 0] = moves[joint.key] ?? joint.points[0] ?? [];
        const [x, y] = scale.at(jx, jy);
        return (
          <circle
            key={joint.key}
            cx={x}
            cy={y}
            r={15}
            fill="transparent"
            stroke={held === joint.key ? ink.oxide : "none"}
            strokeWidth={3}
            tabIndex={0}
            role="button"
            aria-label={`Joint ${joint.key}; drag it, or move it with the arrow keys`}
            style={{ cursor: "grab" }}
            onPointerDown={(event) => {
              event.currentTarget.setPointerCapture(event.pointerId);
              setHeld(joint.key);
              setFrozen(drawing.box);
            }}
            onKeyDown={(event) => {
              const step = ARROWS[event.key];
              if (!step) return;
              event.preventDefault();
              onMove(joint.key, [round(jx + step[0] * KEY_STEP_M), round(jy + step[1] * KEY_STEP_M)]);
            }}
          />
        );
      })}
    </svg>
  );
}

/** What a member carries, written at its middle. */
function Force({ member, at }: { member: DrawnShape; at: (x: number, y: number) => [number, number] }) {
  if (!member.text) return null;
  const [[ax = 0, ay = 0] = [], [bx = 0, by = 0] = []] = member.points;
  const [x0, y0] = at(ax, ay);
  const [x1, y1] = at(bx, by);
  // Along the member, above it, never upside down.
  const slope = (Math.atan2(y1 - y0, x1 - x0) * 180) / Math.PI;
  const turn = slope > 90 ? slope - 180 : slope <= -90 ? slope + 180 : slope;
  const [x, y] = [(x0 + x1) / 2, (y0 + y1) / 2];
  const sign = { tension: "←→ ", compression: "→← " }[member.role as string] ?? "";
  return (
    <text
      x={x}
      y={y - 8}
      transform={`rotate(${turn} ${x} ${y})`}
      textAnchor="middle"
      fontSize={13}
      fontWeight={600}
      fill={member.role === "tension" ? "#1d5f8a" : ink.ink}
      stroke={ink.paper}
      strokeWidth={4}
      paintOrder="stroke"
      pointerEvents="none"
    >
      {sign}
      {member.text}
    </text>
  );
}

/** To the half millimetre. */
function round(metres: number): number {
  return Math.round(metres * 2000) / 2000;
}
