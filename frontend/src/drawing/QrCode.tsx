/** A code for a camera, drawn from the rows of modules that the server worked out, with the quiet edge it needs. */
import { Box } from "@mui/material";

const QUIET = 4;

export function QrCode({ rows, label, sizePx }: { rows: readonly string[]; label: string; sizePx: number }) {
  const size = rows.length + 2 * QUIET;
  // One path: neighbouring squares of their own would show hairlines between them.
  const drawn = rows
    .flatMap((row, y) =>
      [...row.matchAll(/1+/g)].map(
        (dark) => `M${QUIET + dark.index} ${QUIET + y}h${dark[0].length}v1h-${dark[0].length}z`,
      ),
    )
    .join("");
  return (
    <Box
      component="svg"
      role="img"
      aria-label={label}
      viewBox={`0 0 ${size} ${size}`}
      shapeRendering="crispEdges"
      sx={{ width: sizePx, maxWidth: "100%", display: "block" }}
    >
      <rect width={size} height={size} fill="#fff" />
      <path d={drawn} fill="#000" />
    </Box>
  );
}
