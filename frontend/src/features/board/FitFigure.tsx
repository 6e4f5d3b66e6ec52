/** A figure with its unit as large as the room it is given, so that it can be read from the back. */
import { Box } from "@mui/material";
import { useEffect, useRef, useState } from "react";
import type { Figure } from "../../shared/format";
import { condensed } from "../../shared/theme";

/** The size at which it is measured [px]. */
const MEASURED = 100;

export function FitFigure({ figure, colour }: { figure: Figure; colour: string }) {
  const room = useRef<HTMLDivElement>(null);
  const text = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState(MEASURED);
  const now = useRef(MEASURED);
  useEffect(() => {
    const fit = () => {
      if (!room.current || !text.current) return;
      const { clientWidth, clientHeight } = room.current;
      const { offsetWidth, offsetHeight } = text.current;
      if (offsetWidth === 0 || clientWidth === 0) return;
      const fitted = Math.floor(
        now.current * Math.min(clientWidth / offsetWidth, clientHeight / offsetHeight),
      );
      if (Math.abs(fitted - now.current) <= 1) return;
      now.current = fitted;
      setSize(fitted);
    };
    fit();
    const observer = new ResizeObserver(fit);
    if (room.current) observer.observe(room.current);
    // The shipped font is narrower than what stands in for it.
    void document.fonts.ready.then(fit);
    return () => observer.disconnect();
  }, [figure.value, figure.unit]);
  return (
    <Box ref={room} sx={{ flex: 1, minWidth: 0, minHeight: 0, overflow: "hidden", position: "relative" }}>
      <Box
        ref={text}
        data-figure="board-held"
        sx={{
          position: "absolute",
          left: 0,
          bottom: 0,
          // As wide as it is, also where that is too wide: else it would not be seen to be.
          width: "max-content",
          fontFamily: condensed,
          fontWeight: 700,
          fontSize: size,
          lineHeight: 1,
          whiteSpace: "nowrap",
          fontVariantNumeric: "tabular-nums",
          color: colour,
        }}
      >
        {figure.value}{" "}
        <Box component="span" sx={{ fontSize: figure.unit.length > 3 ? "0.22em" : "0.36em" }}>
          {figure.unit}
        </Box>
      </Box>
    </Box>
  );
}
