/** How many photographs wait to be sent, and those that were not taken, each with its reason. */
import { Button, Typography } from "@mui/material";
import { plural } from "./format";
import type { Waiting } from "./KeptPhotos";
import { Notice } from "./states";
import { ink } from "./theme";

interface Props {
  waiting: Waiting;
  /** What stands there while none waits. */
  otherwise: string;
  onDrop: (id: string) => void;
}

export function PhotosWait({ waiting, otherwise, onDrop }: Props) {
  const { photos, refused, away } = waiting;
  const count = photos.length - refused.size;
  return (
    <>
      <Typography
        role="status"
        variant="body2"
        sx={{ color: count > 0 ? ink.watch : ink.soft, minHeight: "1.5em" }}
      >
        {count > 0
          ? `◐ ${count} ${plural("photo", count)} ${
              away ? "kept here; sent when the network is back" : "on the way"
            }`
          : otherwise}
      </Typography>
      {[...refused].map(([id, sentence]) => (
        <Notice key={id} kind="problem">
          {sentence}
          <Button size="small" variant="outlined" sx={{ ml: 2 }} onClick={() => onDrop(id)}>
            Put it away
          </Button>
        </Notice>
      ))}
    </>
  );
}
