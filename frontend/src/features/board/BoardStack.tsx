/** The load as it is piled, drawn to scale, on a sheet of paper colour so that its inks stay what they are. */
import { Box } from "@mui/material";
import type { BoardState, TrialResult } from "../../api/types";
import { LoadPiece } from "../../drawing/BridgeElevation";
import { layersOf, pile } from "../../drawing/bridgeGeometry";

export function BoardStack({ state, result }: { state: BoardState; result: TrialResult }) {
  const pieces = pile(layersOf(result.steps, state.kit));
  if (pieces.length === 0) return null;
  const top = Math.min(...pieces.map((piece) => piece.y));
  const half = Math.max(60, ...pieces.map((piece) => Math.max(-piece.x, piece.x + piece.width)));
  const height = Math.max(120, -top);
  return (
    <Box sx={{ bgcolor: "#f5f0e6", p: 1.5, height: "100%", width: "24%", minWidth: 150 }}>
      <svg
        width="100%"
        height="100%"
        viewBox={`${-half - 6} ${-height - 6} ${2 * half + 12} ${height + 12}`}
        preserveAspectRatio="xMidYMax meet"
        role="img"
        aria-label="The load on it"
      >
        {pieces.map((piece, i) => (
          <LoadPiece key={i} piece={piece} />
        ))}
      </svg>
    </Box>
  );
}
