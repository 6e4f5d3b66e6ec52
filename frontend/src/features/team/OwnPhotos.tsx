/** Photographs that a team takes of its sketch, its structure, its wreck. Others see them after the teacher's nod. */
import { Box, Button, Typography } from "@mui/material";
import { useMutation } from "@tanstack/react-query";
import { answered, api } from "../../api/client";
import type { TeamPage } from "../../api/types";
import { FileButton } from "../../shared/FileButton";
import { PhotosWait } from "../../shared/PhotosWait";
import { Notice, sentenceOf } from "../../shared/states";
import { ink } from "../../shared/theme";
import { useShow } from "./page";
import { usePhotosUntilSent } from "./usePhotosUntilSent";

export function OwnPhotos({
  page,
  place,
  wreck = false,
}: {
  page: TeamPage;
  place: string;
  wreck?: boolean;
}) {
  const show = useShow();
  const sending = usePhotosUntilSent(place);
  const drop = useMutation({
    mutationFn: (id: number) => answered(api.DELETE("/api/team/photos/{id}", { params: { path: { id } } })),
    onSuccess: show,
  });
  return (
    <Box sx={{ mt: 3 }}>
      <Typography variant="h2">Photographs</Typography>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1.5, my: 1 }}>
        {page.photos.map((photo) => (
          <Box key={photo.id}>
            <Box
              component="img"
              src={`/api/team/photos/${photo.id}`}
              alt={photo.what === "wreck" ? "Our wreck" : "Our design"}
              sx={{ height: 110, border: `2px solid ${ink.ink}`, display: "block" }}
            />
            {photo.waits ? (
              <Button
                size="small"
                sx={{ px: 0 }}
                disabled={drop.isPending}
                onClick={() => drop.mutate(photo.id)}
              >
                Take away
              </Button>
            ) : (
              <Typography variant="body2" sx={{ color: ink.soft }}>
                all may see it
              </Typography>
            )}
          </Box>
        ))}
      </Box>
      <FileButton
        accept="image/jpeg,image/png,image/webp"
        camera
        onFile={(file) => sending.give(file, wreck ? "wreck" : "design")}
        look={{ variant: "outlined" }}
      >
        {wreck ? "Photograph what is left" : "Photograph your sketch or structure"}
      </FileButton>
      <PhotosWait
        waiting={sending}
        otherwise="Structures, no faces. Your teacher looks before others see it."
        onDrop={sending.drop}
      />
      {drop.isError && <Notice kind="problem">{sentenceOf(drop.error)}</Notice>}
    </Box>
  );
}
