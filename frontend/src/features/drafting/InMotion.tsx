/** The draft on the table in motion: its load grows, or one of its sizes changes, drawn from the model. */
import { Box, Button, Typography } from "@mui/material";
import { useState } from "react";
import { useDraftFilm } from "../../api/queries";
import type { DraftRequest } from "../../api/types";
import { FilmPlayer } from "../../drawing/FilmPlayer";

export function InMotion({ request }: { request: DraftRequest }) {
  const [number, setNumber] = useState(0);
  const [open, setOpen] = useState(false);
  const asked = useDraftFilm(request, number, open);
  const { titles, film } = asked.data ?? { titles: [], film: null };
  return (
    <Box sx={{ mt: 1 }}>
      <Button size="small" variant="outlined" aria-expanded={open} onClick={() => setOpen(!open)}>
        {open ? "Put the film away" : "See it move"}
      </Button>
      {open && (
        <Box sx={{ mt: 1 }}>
          {titles.length > 1 ? (
            <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap", mb: 1 }}>
              {titles.map((title, i) => (
                <Button
                  key={title}
                  size="small"
                  variant={i === number % titles.length ? "contained" : "outlined"}
                  aria-pressed={i === number % titles.length}
                  onClick={() => setNumber(i)}
                >
                  {title}
                </Button>
              ))}
            </Box>
          ) : (
            film && <Typography variant="h3">{film.title}</Typography>
          )}
          {film && <FilmPlayer key={film.title} film={film} width={700} height={230} />}
          {asked.isPending && <Typography>It is being drawn …</Typography>}
          {asked.isError && <Typography>There is nothing to see while it cannot be built.</Typography>}
        </Box>
      )}
    </Box>
  );
}
