/** The board's gallery: what was built and what was left of it, each with its team. */
import { Box, Typography } from "@mui/material";
import type { BoardState } from "../../api/types";
import { condensed } from "../../shared/theme";
import { MarkShape } from "../../drawing/TeamMark";
import { board } from "./boardTheme";

export function BoardPhotos({ state }: { state: BoardState }) {
  const { photos } = state;
  if (photos.length === 0)
    return (
      <Typography sx={{ fontFamily: condensed, fontWeight: 700, fontSize: "4rem", pt: 4 }}>
        No photograph yet. They are taken at check-in.
      </Typography>
    );
  const columns = photos.length === 1 ? 1 : photos.length <= 4 ? 2 : photos.length <= 6 ? 3 : 4;
  const rows = Math.ceil(photos.length / columns);
  return (
    <Box
      sx={{
        display: "grid",
        gridTemplateColumns: `repeat(${columns}, minmax(0, 1fr))`,
        gridTemplateRows: `repeat(${rows}, minmax(0, 1fr))`,
        gap: 2,
        height: "100%",
      }}
    >
      {photos.map((photo) => (
        <Box
          component="figure"
          key={photo.address}
          sx={{ m: 0, minHeight: 0, display: "flex", flexDirection: "column" }}
        >
          <Box
            component="img"
            src={photo.address}
            alt={`${photo.what === "wreck" ? "The wreck" : "The design"} of ${photo.team.name}`}
            sx={{ flex: 1, minHeight: 0, width: "100%", objectFit: "contain", bgcolor: "#000" }}
          />
          <Box
            component="figcaption"
            sx={{ display: "flex", gap: 1, alignItems: "center", fontSize: "1.4rem" }}
          >
            <svg width={28} height={28} viewBox="-15 -15 30 30" aria-hidden="true">
              <rect x={-14} y={-14} width={28} height={28} fill={board.text} />
              <MarkShape team={photo.team} size={22} />
            </svg>
            <b>
              {photo.team.name}
              {photo.version > 1 && ` v${photo.version}`}
            </b>
            {photo.what === "wreck" && "what was left"}
          </Box>
        </Box>
      ))}
    </Box>
  );
}
