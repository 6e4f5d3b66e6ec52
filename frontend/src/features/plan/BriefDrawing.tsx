/** The set-up of the brief, still and with its dimensions, or a usual design for it in motion. */
import { Box, Button, Typography } from "@mui/material";
import { useState } from "react";
import { useRunFilm } from "../../api/queries";
import type { Drawing } from "../../api/types";
import { FilmPlayer } from "../../drawing/FilmPlayer";
import { SetupDrawing } from "../../drawing/SetupDrawing";

export function BriefDrawing({ run, drawing }: { run: number; drawing: Drawing }) {
  const [moves, setMoves] = useState(false);
  const film = useRunFilm(run, moves);
  return (
    <Box sx={{ alignSelf: "center", minWidth: 0 }}>
      {moves && film.data ? (
        <>
          <Typography variant="h3">{film.data.title}</Typography>
          <FilmPlayer film={film.data} width={660} height={300} />
        </>
      ) : (
        <Box sx={{ height: 350 }}>
          <SetupDrawing drawing={drawing} width={660} height={350} />
        </Box>
      )}
      <Button
        size="small"
        aria-pressed={moves}
        onClick={() => setMoves(!moves)}
        sx={{ px: 0, "@media print": { display: "none" } }}
      >
        {moves ? "The set-up, still" : film.isError ? "There is no film of this" : "See it move"}
      </Button>
    </Box>
  );
}
