/** What a team writes: what it tries, and what it says its structure will hold. Kept on the tablet till it is sent. */
import { Box, Button, TextField, Typography } from "@mui/material";
import { useState } from "react";
import { answered, api } from "../../api/client";
import type { TeamPage } from "../../api/types";
import { Notice } from "../../shared/states";
import { condensed, ink } from "../../shared/theme";
import { useShow } from "./page";
import { useKeptUntilSent, type Sending } from "./useKeptUntilSent";

const PAUSE_MS = 900;

const inOrder = (text: string): string => text.trim().split(/\s+/).join(" ");

function Standing({ sending, done }: { sending: Sending; done: string }) {
  const says = sending.away
    ? "◐ kept on this tablet; it is sent when the network is back"
    : sending.kept && !sending.refused
      ? "◐ on its way"
      : done;
  return (
    <Typography role="status" sx={{ color: ink.soft, minHeight: "1.5em" }}>
      {says}
    </Typography>
  );
}

export function WhatWeTry({
  page,
  place,
  after = false,
}: {
  page: TeamPage;
  place: string;
  after?: boolean;
}) {
  const show = useShow();
  const sending = useKeptUntilSent(
    `team-note ${place}`,
    async ({ text, before }) =>
      show(await answered(api.PUT("/api/team/note", { body: { note: text, before } }))),
    PAUSE_MS,
  );
  // What was typed stays as it was typed, though the server puts its blanks in order.
  const [typed, setTyped] = useState("");
  const text = sending.kept?.text ?? (inOrder(typed) === page.note ? typed : page.note);
  const differs = sending.refused?.code === "changed_meanwhile";
  return (
    <Box sx={{ mt: 3 }}>
      <Typography variant="h2" sx={{ mb: 1 }}>
        {after ? "What did you try?" : "What are you trying?"}
      </Typography>
      <TextField
        fullWidth
        multiline
        minRows={2}
        label="In a sentence or two"
        value={text}
        onChange={(event) => {
          setTyped(event.target.value);
          sending.give(event.target.value, sending.kept?.before ?? page.note);
        }}
        slotProps={{ htmlInput: { maxLength: 300 } }}
      />
      {sending.refused && (
        <Box>
          <Notice kind={differs ? "caution" : "problem"}>{sending.refused.message}</Notice>
          {differs && (
            <>
              <Button variant="contained" sx={{ mr: 1.5 }} onClick={() => sending.give(text, page.note)}>
                Keep what stands here
              </Button>
              <Button variant="outlined" onClick={sending.drop}>
                Take the other one
              </Button>
            </>
          )}
        </Box>
      )}
      <Standing sending={sending} done={page.note ? "● your teacher sees it" : ""} />
    </Box>
  );
}

/** Once the test has begun: what was said in time, and what was typed in time and came too late. */
function SaidBefore({ page, sending }: { page: TeamPage; sending: Sending }) {
  return (
    <Box sx={{ mt: 1 }}>
      <Typography sx={{ fontSize: "1.3rem" }}>
        {page.prediction ? `You said before: ${page.prediction.words}.` : "You said nothing before the test."}
      </Typography>
      {page.late.map((text) => (
        <Typography
          key={text}
          sx={{ fontSize: "1.15rem", borderLeft: `4px solid ${ink.watch}`, pl: 1.5, mt: 1 }}
        >
          You typed “{text}” before the test, and the network brought it too late to count. It is kept, and
          your teacher sees it.
        </Typography>
      ))}
      {sending.refused && (
        <>
          <Notice kind="problem">{sending.refused.message}</Notice>
          <Button onClick={sending.drop}>Put “{sending.kept?.text}” away</Button>
        </>
      )}
      {sending.kept && <Standing sending={sending} done="" />}
    </Box>
  );
}

export function WhatItWillHold({ page, place }: { page: TeamPage; place: string }) {
  const show = useShow();
  const [typed, setTyped] = useState<string | null>(null);
  const sending = useKeptUntilSent(
    `team-says ${place}`,
    async ({ text, at }) => {
      const ago = Math.max(0, (Date.now() - at) / 1000);
      show(await answered(api.POST("/api/team/prediction", { body: { text, typed_ago_s: ago } })));
    },
    0,
  );
  const said = page.prediction;
  const open = said === null || typed !== null || sending.kept !== null;
  if (!page.may_predict) return <SaidBefore page={page} sending={sending} />;
  return (
    <Box sx={{ mt: 3 }}>
      <Typography variant="h2" sx={{ mb: 1 }}>
        {page.asks.ask}
      </Typography>
      {said && (
        <Typography sx={{ fontFamily: condensed, fontWeight: 700, fontSize: "2.4rem", lineHeight: 1.1 }}>
          {said.words}
        </Typography>
      )}
      {open ? (
        <Box
          component="form"
          sx={{ display: "flex", gap: 1.5, mt: 1, alignItems: "start", flexWrap: "wrap" }}
          onSubmit={(event) => {
            event.preventDefault();
            sending.give(typed ?? sending.kept?.text ?? "", "");
            setTyped(null);
          }}
        >
          <TextField
            required
            label="We say"
            value={typed ?? sending.kept?.text ?? ""}
            onChange={(event) => setTyped(event.target.value)}
            helperText={`Like “${page.asks.example}”. Say it before you ask anybody, or any model.`}
            slotProps={{ htmlInput: { maxLength: 40 } }}
            sx={{ flex: "1 1 14rem" }}
          />
          <Button type="submit" variant="contained" size="large">
            That is what we say
          </Button>
        </Box>
      ) : (
        <Button onClick={() => setTyped(said?.text ?? "")} sx={{ px: 0 }}>
          We say something else
        </Button>
      )}
      {sending.refused && <Notice kind="problem">{sending.refused.message}</Notice>}
      <Standing sending={sending} done={said ? "● said; it cannot be changed once the test has begun" : ""} />
    </Box>
  );
}
