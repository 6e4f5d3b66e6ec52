/** The glass over a picture: what is under the chosen point, larger; dragging in it moves the point finely. */
import { Box } from "@mui/material";
import { useRef, type PointerEvent } from "react";
import { ink } from "../../shared/theme";
import type { Point } from "./points";

interface Props {
  url: string;
  width: number;
  height: number;
  at: Point;
  /** How much of the picture it shows to each side [px of the picture]. */
  half?: number;
  onDrag: (by: Point) => void;
}

const LOUPE = 168;
const MAGNIFIED = 5;
/** What a picture on a phone leaves free below it, for the glass. */
export const ROOM_FOR_LOUPE = { mb: { xs: `${LOUPE + 16}px`, sm: 0 } };

export function Loupe({ url, width, height, at, half = LOUPE / MAGNIFIED / 2, onDrag }: Props) {
  const magnified = LOUPE / half / 2;
  const thin = MAGNIFIED / magnified;
  const last = useRef<Point | null>(null);
  return (
    <Box
      component="svg"
      data-testid="loupe"
      aria-hidden
      viewBox={`${at[0] - half} ${at[1] - half} ${2 * half} ${2 * half}`}
      sx={{
        position: "absolute",
        width: LOUPE,
        height: LOUPE,
        // On the other side of the picture, so that it covers nothing that is looked at; on a phone below it.
        top: { xs: "calc(100% + 8px)", sm: 8 },
        ...(at[0] > width / 2
          ? { left: { xs: 0, sm: 8 } }
          : { right: { xs: "auto", sm: 8 }, left: { xs: 0, sm: "auto" } }),
        border: `3px solid ${ink.ink}`,
        borderRadius: "50%",
        bgcolor: ink.ink,
        touchAction: "none",
        cursor: "move",
      }}
      onPointerDown={(event: PointerEvent<Element>) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        last.current = [event.clientX, event.clientY];
      }}
      onPointerMove={(event: PointerEvent<Element>) => {
        if (!last.current) return;
        const by: Point = [event.clientX - last.current[0], event.clientY - last.current[1]];
        last.current = [event.clientX, event.clientY];
        // The picture under the glass goes along with the finger.
        onDrag([-by[0] / magnified, -by[1] / magnified]);
      }}
      onPointerUp={() => {
        last.current = null;
      }}
    >
      <image href={url} width={width} height={height} preserveAspectRatio="none" />
      <g stroke={ink.oxide} strokeWidth={0.5 * thin} fill="none">
        <path
          d={`M${at[0] - half} ${at[1]}h${half - 2 * thin}m${4 * thin} 0h${half - 2 * thin}M${at[0]} ${at[1] - half}v${half - 2 * thin}m0 ${4 * thin}v${half - 2 * thin}`}
        />
        <circle cx={at[0]} cy={at[1]} r={2 * thin} />
      </g>
    </Box>
  );
}
