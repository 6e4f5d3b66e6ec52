/** When a test is over: what to ask oneself, what the team answers, and its next version. */
import { Box, Button, TextField, Typography } from "@mui/material";
import { answered, api } from "../../api/client";
import type { TeamPage } from "../../api/types";
import { useRemembered } from "../../shared/remembered";
import { Notice } from "../../shared/states";
import { KeptText } from "./KeptText";
import { useShow } from "./page";
import { Standing } from "./Standing";
import { useKeptUntilSent } from "./useKeptUntilSent";

export function Questions({ page, place }: { page: TeamPage; place: string }) {
  if (page.questions.length === 0) return null;
  return (
    <Box sx={{ mt: 3 }}>
      <Typography variant="h2">What do you make of it?</Typography>
      {page.questions.map(({ question, text }) => (
        <Box key={question} sx={{ mt: 1.5 }}>
          <KeptText
            name={`team-answer ${place} ${question}`}
            label={question}
            stands={text}
            longest={1000}
            send={(answer, before) =>
              answered(api.PUT("/api/team/answers", { body: { question, text: answer, before } }))
            }
          />
        </Box>
      ))}
    </Box>
  );
}

export function NextVersion({ page, place }: { page: TeamPage; place: string }) {
  const show = useShow();
  const [typed, setTyped] = useRemembered(`team-next ${place}`, "");
  const sending = useKeptUntilSent(
    `team-version ${place}`,
    async ({ text }) => show(await answered(api.POST("/api/team/next-version", { body: { changed: text } }))),
    0,
  );
  return (
    <Box
      component="form"
      sx={{ mt: 4 }}
      onSubmit={(event) => {
        event.preventDefault();
        sending.give(typed, "");
      }}
    >
      <Typography variant="h2">Build it again, better</Typography>
      {page.ways_on.map((way) => (
        <Typography key={way} sx={{ fontSize: "1.15rem" }}>
          {way}
        </Typography>
      ))}
      <Box sx={{ display: "flex", gap: 1.5, mt: 1.5, flexWrap: "wrap", alignItems: "start" }}>
        <TextField
          required
          label="The one thing that changes"
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
          helperText="One thing at a time tells most."
          slotProps={{ htmlInput: { maxLength: 300 } }}
          sx={{ flex: "1 1 16rem" }}
        />
        <Button
          type="submit"
          variant="contained"
          size="large"
          disabled={sending.kept !== null && !sending.refused}
        >
          Open version {page.version + 1}
        </Button>
      </Box>
      {sending.refused && <Notice kind="problem">{sending.refused.message}</Notice>}
      <Standing sending={sending} done="" />
    </Box>
  );
}
