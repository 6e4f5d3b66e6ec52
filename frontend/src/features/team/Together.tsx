/** Who is at this tablet, and who does what at the test. */
import { Box, TextField, Typography } from "@mui/material";
import { answered, api } from "../../api/client";
import type { TeamPage } from "../../api/types";
import { Notice } from "../../shared/states";
import { ink } from "../../shared/theme";
import { useShow } from "./page";
import { Standing } from "./Standing";
import { useKeptUntilSent } from "./useKeptUntilSent";

const PAUSE_MS = 1500;

export function WhoIsHere({ page, place }: { page: TeamPage; place: string }) {
  const show = useShow();
  const sending = useKeptUntilSent(
    `team-who ${place}`,
    async ({ text }) => show(await answered(api.PUT("/api/team/who", { body: { who: text } }))),
    PAUSE_MS,
  );
  return (
    <Box sx={{ mt: 3, maxWidth: 520 }}>
      <TextField
        fullWidth
        label="Who is at this tablet? First names, if you like"
        value={sending.kept?.text ?? page.who}
        onChange={(event) => sending.give(event.target.value, "")}
        helperText="They say who does what at the test, and are forgotten when the lesson is over."
        slotProps={{ htmlInput: { maxLength: 200, autoComplete: "off" } }}
      />
      {sending.refused && <Notice kind="problem">{sending.refused.message}</Notice>}
      <Standing sending={sending} done="" />
    </Box>
  );
}

export function WhoDoesWhat({ page }: { page: TeamPage }) {
  return (
    <Box sx={{ mt: 3 }}>
      <Typography variant="h2">Who does what</Typography>
      <Box component="ul" sx={{ listStyle: "none", m: 0, mt: 0.5, p: 0, fontSize: "1.15rem" }}>
        {page.tasks.map((task) => (
          <Box
            component="li"
            key={`${task.words} ${task.name}`}
            sx={{ py: 0.4, borderBottom: `1px solid ${ink.line}` }}
          >
            <b>{task.name || "One of you"}</b> {task.words}
          </Box>
        ))}
      </Box>
      {page.tasks.some((task) => task.name) && (
        <Typography sx={{ color: ink.soft, mt: 0.5 }}>At the next test it goes round by one.</Typography>
      )}
    </Box>
  );
}
