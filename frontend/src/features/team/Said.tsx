/** What a team says: what it tries, and what its structure will hold. Kept on the tablet till it is sent. */
import { Box, Button, TextField, Typography } from "@mui/material";
import { answered, api } from "../../api/client";
import type { TeamPage } from "../../api/types";
import { Notice } from "../../shared/states";
import { condensed, ink } from "../../shared/theme";
import { useShow } from "./page";
import { useRemembered } from "../../shared/remembered";
import { KeptText } from "./KeptText";
import { Standing } from "./Standing";
import { useKeptUntilSent, type Sending } from "./useKeptUntilSent";

export function WhatWeTry({
  page,
  place,
  after = false,
}: {
  page: TeamPage;
  place: string;
  after?: boolean;
}) {
  return (
    <Box sx={{ mt: 3 }}>
      <Typography variant="h2" sx={{ mb: 1 }}>
        {after ? "What did you try?" : "What are you trying?"}
      </Typography>
      <KeptText
        name={`team-note ${place}`}
        label="In a sentence or two"
        stands={page.note}
        longest={300}
        send={(note, before) => answered(api.PUT("/api/team/note", { body: { note, before } }))}
      />
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
  // What is typed and not said yet survives a closed lid as well.
  const [typed, setTyped] = useRemembered<string | null>(`team-saying ${place}`, null);
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
