/** The teacher's hold on the projector board: open it, choose what it shows, give it a new link, close it. */
import { Box, Button, Typography } from "@mui/material";
import { NamedDialog } from "../../shared/NamedDialog";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { answered, api } from "../../api/client";
import { keys, showAnswer, useBoardLink } from "../../api/queries";
import type { Screen } from "../../api/types";
import { QrCode } from "../../drawing/QrCode";
import { OnlyHere } from "../../shared/OnlyHere";
import { Notice, sentenceOf } from "../../shared/states";
import { ink } from "../../shared/theme";

const SCREENS: readonly [Screen, string][] = [
  ["bench", "The bench"],
  ["ranking", "Ranking so far"],
  ["brief", "The brief"],
  ["clock", "The build clock"],
  ["cautions", "Cautions"],
  ["photos", "Photographs"],
  ["motion", "In motion"],
];

type Change = { action?: "open" | "renew" | "close"; screen?: Screen };

export function BoardControl({ run }: { run: number }) {
  const [open, setOpen] = useState(false);
  const client = useQueryClient();
  const link = useBoardLink(run, open);
  const change = useMutation({
    mutationFn: (body: Change) =>
      answered(api.PUT("/api/runs/{id}/board", { params: { path: { id: run } }, body })),
    onSuccess: (fresh) => showAnswer(client, keys.board(run), fresh),
  });
  const token = link.data?.token;
  const address = link.data?.address ?? "";
  return (
    <>
      <Button size="small" variant="outlined" sx={{ ml: 2, py: 0 }} onClick={() => setOpen(true)}>
        Board
      </Button>
      <NamedDialog open={open} onClose={() => setOpen(false)} name="Projector board" maxWidth="sm" fullWidth>
        <Box sx={{ p: 3 }}>
          <Typography variant="h2">The board for the projector</Typography>
          <Typography sx={{ mb: 2 }}>
            A link that shows and can change nothing. It follows the bench by itself, on any screen in the
            room.
          </Typography>
          {!token ? (
            <Button
              variant="contained"
              disabled={change.isPending}
              onClick={() => change.mutate({ action: "open" })}
            >
              Open the board
            </Button>
          ) : (
            <>
              <Box
                sx={{ display: "flex", gap: 2, alignItems: "center", flexWrap: { xs: "wrap", sm: "nowrap" } }}
              >
                <QrCode rows={link.data?.code ?? []} label="Code of the board's address" sizePx={148} />
                <Box
                  component="a"
                  href={address}
                  target="_blank"
                  rel="noreferrer"
                  sx={{ fontWeight: 700, color: ink.oxide, wordBreak: "break-all" }}
                >
                  {address}
                </Box>
              </Box>
              <OnlyHere address={address} />
              <Typography sx={{ mt: 2, mb: 1, fontWeight: 600 }}>It shows</Typography>
              <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap" }}>
                {SCREENS.map(([key, label]) => (
                  <Button
                    key={key}
                    variant={link.data?.screen === key ? "contained" : "outlined"}
                    aria-pressed={link.data?.screen === key}
                    onClick={() => change.mutate({ screen: key })}
                  >
                    {label}
                  </Button>
                ))}
              </Box>
              <Box sx={{ display: "flex", gap: 1, mt: 3 }}>
                <Button onClick={() => change.mutate({ action: "renew" })}>Give it a new link</Button>
                <Button onClick={() => change.mutate({ action: "close" })}>Close the board</Button>
              </Box>
              <Typography variant="body2" sx={{ color: ink.soft }}>
                With a new link, or closed, whoever has the old one sees nothing more.
              </Typography>
            </>
          )}
          {change.isError && <Notice kind="problem">{sentenceOf(change.error)}</Notice>}
          {link.isError && <Notice kind="problem">{sentenceOf(link.error)}</Notice>}
        </Box>
      </NamedDialog>
    </>
  );
}
