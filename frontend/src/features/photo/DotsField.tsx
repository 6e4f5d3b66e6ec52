/** A picture of loose pieces with a dot on each: a touch on a dot takes it away, one anywhere else sets one. */
import { Box } from "@mui/material";
import { useRef, type KeyboardEvent, type MouseEvent } from "react";
import { ink } from "../../shared/theme";
import { Loupe, ROOM_FOR_LOUPE } from "./Loupe";
import { inside, nearest, STEPS, type Point } from "./points";
import { whole } from "./whole";

/** A dot, and whether it has to be looked at still. */
export interface Dot {
  at: Point;
  doubtful: boolean;
}

interface Props {
  url: string;
  width: number;
  height: number;
  dots: readonly Dot[];
  /** How large a piece is [px of the picture]. */
  radius: number;
  chosen: number;
  onChoose: (index: number) => void;
  onDots: (dots: readonly Dot[], chosen: number) => void;
}

/** How near a finger has to come to a dot to take it away [px on the screen]. */
const REACH = 14;

const without = (dots: readonly Dot[], index: number) => dots.filter((_, i) => i !== index);
const moved = (dots: readonly Dot[], index: number, at: Point) =>
  dots.map((dot, i) => (i === index ? { ...dot, at } : dot));

function Mark({ dot, radius, thin, chosen }: { dot: Dot; radius: number; thin: number; chosen: boolean }) {
  const [x, y] = dot.at;
  return (
    <>
      {dot.doubtful && (
        <circle
          cx={x}
          cy={y}
          r={1.35 * radius}
          fill="none"
          stroke={ink.watchFill}
          strokeWidth={4 * thin}
          strokeDasharray={`${10 * thin} ${6 * thin}`}
        />
      )}
      <circle
        cx={x}
        cy={y}
        r={Math.max(4 * thin, 0.28 * radius)}
        fill={ink.oxide}
        stroke={ink.sheet}
        strokeWidth={2.5 * thin}
      />
      {chosen && <circle cx={x} cy={y} r={radius} fill="none" stroke={ink.oxide} strokeWidth={2.5 * thin} />}
    </>
  );
}

export function DotsField({ url, width, height, dots, radius, chosen, onChoose, onDots }: Props) {
  const field = useRef<SVGSVGElement>(null);
  const press = (event: MouseEvent<Element>) => {
    const box = field.current?.getBoundingClientRect();
    if (!box) return;
    const at: Point = [
      ((event.clientX - box.left) / box.width) * width,
      ((event.clientY - box.top) / box.height) * height,
    ];
    const found = nearest(
      dots.map((dot) => dot.at),
      at,
    );
    // A finger is wider than a small piece.
    if (found.away <= Math.max(0.8 * radius, (REACH * width) / box.width))
      onDots(without(dots, found.index), -1);
    else onDots([...dots, { at: inside(at, width, height), doubtful: false }], dots.length);
  };
  const keyed = (event: KeyboardEvent<Element>, index: number) => {
    const dot = dots[index];
    const step = STEPS[event.key];
    if (!dot) return;
    if (event.key === "Delete" || event.key === "Backspace") onDots(without(dots, index), -1);
    else if (step) {
      const by = event.shiftKey ? 10 : 1;
      const to: Point = [dot.at[0] + by * step[0], dot.at[1] + by * step[1]];
      onDots(moved(dots, index, inside(to, width, height)), index);
    } else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const thin = width / 900;
  const at = dots[chosen]?.at;
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
        data-testid="dots"
        viewBox={`0 0 ${width} ${height}`}
        sx={{ width: "100%", height: "100%", cursor: "crosshair", bgcolor: ink.ink }}
        onClick={press}
      >
        <image href={url} width={width} height={height} preserveAspectRatio="none" />
        {dots.map((dot, i) => (
          <Box
            component="g"
            key={i}
            role="button"
            // One stop for all of them; the buttons beside the picture go from one to the next.
            tabIndex={i === Math.max(chosen, 0) ? 0 : -1}
            aria-label={`Dot ${i + 1} of ${dots.length}${dot.doubtful ? ", to be looked at" : ""}. Delete takes it away, arrow keys move it.`}
            onFocus={() => onChoose(i)}
            onKeyDown={(event: KeyboardEvent<Element>) => keyed(event, i)}
            sx={{ outline: "none", "&:focus-visible circle": { stroke: ink.watchFill } }}
          >
            <Mark dot={dot} radius={radius} thin={thin} chosen={i === chosen} />
          </Box>
        ))}
      </Box>
      {at && (
        <Loupe
          url={url}
          width={width}
          height={height}
          at={at}
          half={2 * radius}
          onDrag={([dx, dy]) =>
            onDots(moved(dots, chosen, inside([at[0] + dx, at[1] + dy], width, height)), chosen)
          }
        />
      )}
    </Box>
  );
}
