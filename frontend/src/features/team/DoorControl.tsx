/** The teacher's hold on the lesson's door: its code for tablets, who is in, and everybody out. */
import { Box, Button, Checkbox, FormControlLabel, Typography } from "@mui/material";
import { NamedDialog } from "../../shared/NamedDialog";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { answered, api } from "../../api/client";
import { keys, showAnswer } from "../../api/queries";
import type { Door } from "../../api/types";
import { WayIn } from "../../drawing/WayIn";
import { formatClock } from "../../shared/format";
import { Notice, sentenceOf } from "../../shared/states";
import { ink } from "../../shared/theme";
import { useDoor } from "./useDoor";

const LOOK_MS = 4000;
/** A tablet that asked for nothing for so long is asleep [s]. */
const ASLEEP_S = 60;

type Change = { action?: "open" | "keep" | "close"; out?: number; may?: Partial<Door["may"]> };

const MAY: readonly [keyof Door["may"], string][] = [
  ["measure", "measure its own structure; that counts when you take it over"],
  ["draft", "draft at its drafting table; it speaks before the model"],
  ["ideas", "read what others have tried"],
  ["test", "test by itself, once checked in; Stations, on the bench’s page, shows all of them"],
];

function TeamsMay({ door, change }: { door: Door; change: (may: Partial<Door["may"]>) => void }) {
  return (
    <Box component="fieldset" sx={{ border: 0, p: 0, m: 0, mt: 2 }}>
      <Typography component="legend" sx={{ fontWeight: 600 }}>
        At its tablet a team may
      </Typography>
      {MAY.map(([key, label]) => (
        <FormControlLabel
          key={key}
          control={
            <Checkbox checked={door.may[key]} onChange={(event) => change({ [key]: event.target.checked })} />
          }
          label={label}
          sx={{ display: "flex", my: -0.5 }}
        />
      ))}
    </Box>
  );
}

function Tablets({ door, put }: { door: Door; put: (tablet: number) => void }) {
  if (door.tablets.length === 0)
    return <Typography sx={{ color: ink.soft }}>No tablet is in yet.</Typography>;
  return (
    <Box component="ul" sx={{ m: 0, p: 0, listStyle: "none", maxHeight: 220, overflowY: "auto" }}>
      {door.tablets.map((tablet) => (
        <Box key={tablet.id} component="li" sx={{ display: "flex", gap: 1.5, alignItems: "center" }}>
          <Typography sx={{ flex: 1 }}>
            <b>{tablet.team || "no team yet"}</b>
            {tablet.who && ` (${tablet.who})`}, since {formatClock(tablet.joined_at)}
            {tablet.seen_s > ASLEEP_S && <Box component="span"> · asleep</Box>}
          </Typography>
          <Button
            size="small"
            onClick={() => put(tablet.id)}
            aria-label={`Put out ${tablet.team || "the tablet"}`}
          >
            Put out
          </Button>
        </Box>
      ))}
    </Box>
  );
}

export function DoorControl({ run }: { run: number }) {
  const [open, setOpen] = useState(false);
  const client = useQueryClient();
  const link = useDoor(run, open, LOOK_MS);
  const change = useMutation({
    mutationFn: (body: Change) =>
      answered(api.PUT("/api/runs/{id}/door", { params: { path: { id: run } }, body })),
    onSuccess: (fresh) => showAnswer(client, keys.door(run), fresh),
  });
  const door = link.data;
  return (
    <>
      <Button size="small" variant="outlined" sx={{ ml: 1, py: 0 }} onClick={() => setOpen(true)}>
        Teams in
      </Button>
      <NamedDialog open={open} onClose={() => setOpen(false)} name="Teams at tablets" maxWidth="sm" fullWidth>
        <Box sx={{ p: 3 }}>
          <Typography variant="h2">Teams at their own tablets</Typography>
          <Typography sx={{ mb: 2 }}>
            A team sees the brief, writes and photographs what it tries, says what its structure will hold,
            watches its own test and answers the questions after it. It needs no account, and can touch
            nothing else. A photograph of a team’s waits at check-in till you let others see it.
          </Typography>
          {!door?.code ? (
            <Button
              variant="contained"
              disabled={change.isPending}
              onClick={() => change.mutate({ action: "open" })}
            >
              Let teams in
            </Button>
          ) : (
            <>
              <WayIn
                picture={door.picture}
                code={door.code}
                address={door.address}
                sizePx={190}
                codeSize="3.6rem"
              >
                {door.until && (
                  <Typography sx={{ color: ink.soft }}>till {formatClock(door.until)}</Typography>
                )}
              </WayIn>
              <Typography sx={{ mt: 2, mb: 1, fontWeight: 600 }}>Who is in</Typography>
              <Tablets door={door} put={(out) => change.mutate({ out })} />
              {door.late.map(({ team, text }) => (
                <Typography key={`${team} ${text}`} sx={{ mt: 1 }}>
                  <b>{team}</b> typed “{text}” before its test; the network brought it too late to count.
                </Typography>
              ))}
              <Box sx={{ display: "flex", gap: 1, mt: 2, flexWrap: "wrap" }}>
                <Button onClick={() => change.mutate({ action: "keep" })}>Keep it open longer</Button>
                <Button variant="outlined" onClick={() => change.mutate({ action: "close" })}>
                  Everybody out
                </Button>
              </Box>
            </>
          )}
          {door && <TeamsMay door={door} change={(may) => change.mutate({ may })} />}
          {change.isError && <Notice kind="problem">{sentenceOf(change.error)}</Notice>}
          {link.isError && <Notice kind="problem">{sentenceOf(link.error)}</Notice>}
        </Box>
      </NamedDialog>
    </>
  );
}
