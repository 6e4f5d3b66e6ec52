/** The picture with what was found in it drawn over it, the points that can be moved, and a loupe at the one that moves. */
import { Box } from "@mui/material";
import { memo, useRef, useState, type KeyboardEvent, type PointerEvent } from "react";
import type { PictureLook } from "../../api/types";
import { ink } from "../../shared/theme";
import { Loupe, ROOM_FOR_LOUPE } from "./Loupe";
import { eachOutline, far, inside, moved, nearest, outlineAt, STEPS, type Point, type Shape } from "./points";
import { whole } from "./whole";

interface Props {
  url: string;
  look: PictureLook;
  shape: Shape;
  names: readonly string[];
  closed: boolean;
  chosen: number;
  onChoose: (index: number) => void;
  onMove: (shape: Shape) => void;
}

/** How near a finger has to come to a point to take it [px on the screen]. */
const REACH = 44;

const path = (points: readonly (readonly number[])[], closed = false): string =>
  points.map(([x, y], i) => `${i === 0 ? "M" : "L"}${x} ${y}`).join("") + (closed ? "z" : "");

/** Rims of cards and the grid of their plane: the same while points move, so drawn once. */
const Found = memo(function Found({ look, thin }: { look: PictureLook; thin: number }) {
  return (
    <g fill="none" strokeLinejoin="round">
      {look.grid.map((line, i) => (
        <path key={i} d={path(line)} stroke={ink.sheet} strokeWidth={thin} opacity={0.55} />
      ))}
      {look.cards.map((card) => (
        <path key={card.key} d={path(card.rim, true)} stroke={ink.held} strokeWidth={4 * thin} />
      ))}
    </g>
  );
});

/** What is measured, light round dark so that it shows on anything. */
function Way({ shape, closed, thin }: Pick<Props, "shape" | "closed"> & { thin: number }) {
  const d = eachOutline(shape)
    .map((points) => path(points, closed))
    .join("");
  return (
    <g fill="none" strokeLinejoin="round">
      <path d={d} stroke={ink.sheet} strokeWidth={5 * thin} />
      <path d={d} stroke={ink.oxide} strokeWidth={2.2 * thin} />
    </g>
  );
}

function Handle({ at, thin, chosen }: { at: Point; thin: number; chosen: boolean }) {
  const r = (chosen ? 13 : 10) * thin;
  const cross = path([
    [at[0] - r, at[1]],
    [at[0] + r, at[1]],
  ]).concat(
    path([
      [at[0], at[1] - r],
      [at[0], at[1] + r],
    ]),
  );
  return (
    <>
      <circle cx={at[0]} cy={at[1]} r={REACH * 0.5 * thin} fill="transparent" />
      <g fill="none">
        <circle cx={at[0]} cy={at[1]} r={r} stroke={ink.sheet} strokeWidth={5 * thin} />
        <circle cx={at[0]} cy={at[1]} r={r} stroke={ink.oxide} strokeWidth={(chosen ? 3 : 2) * thin} />
        {chosen && <path d={cross} stroke={ink.oxide} strokeWidth={thin} />}
      </g>
    </>
  );
}

/** What a point is called: an end by its name, a corner by its number, and by its outline's where there are several. */
function nameOf({ outlines }: Shape, names: readonly string[], i: number): string {
  const { which, first } = outlineAt(outlines, i);
  const corner = names[i] ?? `Corner ${i - first + 1}`;
  return outlines.length > 1 ? `${corner} of outline ${which + 1}` : corner;
}

export function PictureField({ url, look, shape, names, closed, chosen, onChoose, onMove }: Props) {
  const { points } = shape;
  const { width_px: width, height_px: height } = look.frame;
  const field = useRef<SVGSVGElement>(null);
  const [dragged, setDragged] = useState<{ index: number; from: Point; start: Point } | null>(null);
  const place = (event: PointerEvent<Element>): Point => {
    const box = field.current?.getBoundingClientRect();
    if (!box) return [0, 0];
    const [x, y] = [(event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height];
    return [x * width, y * height];
  };
  const perPx = () => width / (field.current?.getBoundingClientRect().width || width);
  const move = (index: number, to: Point) =>
    onMove({ ...shape, points: moved(points, index, inside(to, width, height)) });
  const keyed = (event: KeyboardEvent<Element>, index: number) => {
    const step = STEPS[event.key];
    const at = points[index];
    if (!step || !at) return;
    event.preventDefault();
    event.stopPropagation();
    const by = event.shiftKey ? 10 : 1;
    move(index, [at[0] + by * step[0], at[1] + by * step[1]]);
  };
  // Lines as wide on the screen whatever the picture's size.
  const thin = width / 900;
  const at = points[chosen];
  return (
    <Box
      sx={{
        position: "relative",
        lineHeight: 0,
        ...whole(width, height),
        ...(at ? ROOM_FOR_LOUPE : {}),
        mx: "auto",
      }}
    >
      <Box
        component="svg"
        ref={field}
        viewBox={`0 0 ${width} ${height}`}
        sx={{ width: "100%", height: "100%", touchAction: "none", cursor: "crosshair", bgcolor: ink.ink }}
        onPointerDown={(event: PointerEvent<Element>) => {
          const from = place(event);
          const found = nearest(points, from);
          const index = found.away <= REACH * perPx() ? found.index : chosen;
          const start = points[index];
          if (!start) return;
          event.currentTarget.setPointerCapture(event.pointerId);
          onChoose(index);
          // Near enough, it is taken where it is; else it comes to where one points.
          if (index !== found.index || found.away > REACH * perPx()) move(index, from);
          setDragged({ index, from, start: far(start, from) <= REACH * perPx() ? start : from });
        }}
        onPointerMove={(event: PointerEvent<Element>) => {
          if (!dragged) return;
          const to = place(event);
          move(dragged.index, [
            dragged.start[0] + to[0] - dragged.from[0],
            dragged.start[1] + to[1] - dragged.from[1],
          ]);
        }}
        onPointerUp={() => setDragged(null)}
        onPointerCancel={() => setDragged(null)}
      >
        <image href={url} width={width} height={height} preserveAspectRatio="none" />
        <Found look={look} thin={thin} />
        <Way shape={shape} closed={closed} thin={thin} />
        {points.map((point, i) => (
          <Box
            component="g"
            key={i}
            role="button"
            tabIndex={0}
            aria-label={`${nameOf(shape, names, i)}: ${Math.round(point[0])} across, ${Math.round(point[1])} down. Arrow keys move it.`}
            aria-pressed={i === chosen}
            onFocus={() => onChoose(i)}
            onKeyDown={(event: KeyboardEvent<Element>) => keyed(event, i)}
            sx={{ cursor: "grab", outline: "none", "&:focus-visible circle": { stroke: ink.watchFill } }}
          >
            <Handle at={point} thin={thin} chosen={i === chosen} />
          </Box>
        ))}
      </Box>
      {at && (
        <Loupe
          url={url}
          width={width}
          height={height}
          at={at}
          onDrag={(by) => move(chosen, [at[0] + by[0], at[1] + by[1]])}
        />
      )}
    </Box>
  );
}
