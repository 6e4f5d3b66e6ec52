/** Photographs of a design: taken with the tablet or chosen, shown small, taken away again. */
import { Box, Button, Typography } from "@mui/material";
import { useQueryClient } from "@tanstack/react-query";
import { useSyncExternalStore } from "react";
import { answered, api } from "../../api/client";
import type { Design } from "../../api/types";
import { FileButton } from "../../shared/FileButton";
import { PhotosWait } from "../../shared/PhotosWait";
import { Notice, sentenceOf } from "../../shared/states";
import { ink } from "../../shared/theme";
import { useDesignWrite, useRunState } from "../run";
import { keptPhotos, photoPlace } from "./keptPhotos";

export function Photos({ design }: { design: Design }) {
  // What survived its test is no wreck.
  const broken = design.trials.some((trial) => trial.result.outcome === "broke");
  const place = photoPlace(useRunState().state.run.id, design.id);
  const kept = keptPhotos(useQueryClient());
  const all = useSyncExternalStore(kept.subscribe, kept.snapshot);
  const photos = all.photos.filter((photo) => photo.place === place);
  const refused = new Map([...all.refused].filter(([id]) => photos.some((photo) => photo.id === id)));
  const nod = useDesignWrite((id: number) =>
    answered(api.PUT("/api/photos/{id}", { params: { path: { id } } })),
  );
  const drop = useDesignWrite((id: number) =>
    answered(api.DELETE("/api/photos/{id}", { params: { path: { id } } })),
  );
  return (
    <Box sx={{ mt: 1.5 }}>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1 }}>
        {design.photos.map((photo) => (
          <Box key={photo.id} sx={{ position: "relative" }}>
            <Box
              component="img"
              src={`/api/photos/${photo.id}`}
              alt={photo.caption || `${photo.what === "wreck" ? "Wreck" : "Design"} of ${design.team.name}`}
              sx={{
                height: 92,
                border: `2px ${photo.waits ? "dashed" : "solid"} ${photo.waits ? ink.watch : ink.ink}`,
                display: "block",
              }}
            />
            {photo.caption && <Typography variant="body2">{photo.caption}</Typography>}
            {photo.waits && (
              <>
                <Typography variant="body2" sx={{ color: ink.watch }}>
                  the team’s; you alone see it
                </Typography>
                <Button
                  size="small"
                  variant="outlined"
                  sx={{ py: 0, mr: 1 }}
                  disabled={nod.isPending}
                  onClick={() => nod.mutate(photo.id)}
                >
                  Let all see it
                </Button>
              </>
            )}
            <Button size="small" sx={{ p: 0, minWidth: 0 }} onClick={() => drop.mutate(photo.id)}>
              Take away
            </Button>
          </Box>
        ))}
      </Box>
      <FileButton
        accept="image/jpeg,image/png,image/webp"
        camera
        onFile={(file) => void kept.give(file, place, broken ? "wreck" : "design")}
        look={{ size: "small", sx: { px: 0 } }}
      >
        {broken ? "Photograph the wreck" : "Photograph it"}
      </FileButton>
      <PhotosWait
        waiting={{ photos, refused, away: all.away }}
        otherwise="Structures, no faces. Place and time that a camera writes are taken out."
        onDrop={(id) => void kept.drop(id)}
      />
      {nod.isError && <Notice kind="problem">{sentenceOf(nod.error)}</Notice>}
      {drop.isError && <Notice kind="problem">{sentenceOf(drop.error)}</Notice>}
    </Box>
  );
}
