/** For a young class: every piece that is on, as a picture; held ones filled, waiting ones pale. */
import { Box } from "@mui/material";
import type { KitItem, TrialResult } from "../../api/types";
import { KitItemDrawing } from "../../drawing/KitItemDrawing";

export function PieceRow({ kit, shown }: { kit: readonly KitItem[]; shown: TrialResult }) {
  const on = kit
    .filter((item) => item.shape !== "platform")
    .reduce((sum, item) => sum + (shown.placed[item.key] ?? 0), 0);
  const pieces = shown.steps
    .filter((step) => step.kind === "place")
    .flatMap((step) => {
      const item = kit.find((entry) => entry.key === step.item);
      if (!item || item.shape === "platform") return [];
      return Array.from({ length: step.count }, (_, i) => ({
        id: `${step.event_id} ${i}`,
        item,
        state: step.state,
      }));
    })
    .slice(0, Math.max(0, on));
  return (
    <Box
      role="img"
      aria-label={`${shown.pieces_on} pieces`}
      sx={{ display: "flex", flexWrap: "wrap", gap: 0.5, minHeight: 92, alignContent: "center" }}
    >
      {pieces.map((piece) => (
        <Box key={piece.id} sx={{ opacity: piece.state === "held" ? 1 : 0.45 }}>
          <KitItemDrawing item={piece.item} size={38} />
        </Box>
      ))}
    </Box>
  );
}
