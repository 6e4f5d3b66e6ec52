/** A text of the team's: saved as it is typed, kept on the tablet till it is sent, and asked about if it was changed elsewhere. */
import { Box, Button, TextField } from "@mui/material";
import { useState } from "react";
import type { TeamPage } from "../../api/types";
import { Notice } from "../../shared/states";
import { useShow } from "./page";
import { Standing } from "./Standing";
import { useKeptUntilSent } from "./useKeptUntilSent";

const PAUSE_MS = 900;

const inOrder = (text: string): string => text.trim().split(/\s+/).join(" ");

interface Props {
  /** Under which it is kept on this tablet. */
  name: string;
  label: string;
  /** What the server has. */
  stands: string;
  longest: number;
  send: (text: string, before: string) => Promise<TeamPage>;
}

export function KeptText({ name, label, stands, longest, send }: Props) {
  const show = useShow();
  const sending = useKeptUntilSent(
    name,
    async ({ text, before }) => show(await send(text, before)),
    PAUSE_MS,
  );
  // What was typed stays as it was typed, though the server puts its blanks in order.
  const [typed, setTyped] = useState("");
  const text = sending.kept?.text ?? (inOrder(typed) === inOrder(stands) ? typed : stands);
  const differs = sending.refused?.code === "changed_meanwhile";
  return (
    <Box>
      <TextField
        fullWidth
        multiline
        minRows={2}
        label={label}
        value={text}
        onChange={(event) => {
          setTyped(event.target.value);
          sending.give(event.target.value, sending.kept?.before ?? stands);
        }}
        slotProps={{ htmlInput: { maxLength: longest } }}
      />
      {sending.refused && (
        <Box>
          <Notice kind={differs ? "caution" : "problem"}>{sending.refused.message}</Notice>
          {differs && (
            <>
              <Button
                variant="contained"
                sx={{ mr: 1.5 }}
                onClick={() => sending.give(text, String(sending.refused?.data["stands"] ?? stands))}
              >
                Keep what stands here
              </Button>
              <Button variant="outlined" onClick={sending.drop}>
                Take the other one
              </Button>
            </>
          )}
        </Box>
      )}
      <Standing sending={sending} done={stands ? "● your teacher sees it" : ""} />
    </Box>
  );
}
