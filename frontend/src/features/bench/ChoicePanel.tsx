/** A list of named choices over the bench, each with its letter; Escape leaves it. */
import { Box, Typography } from "@mui/material";
import { NamedDialog } from "../../shared/NamedDialog";
import { useRef } from "react";
import type { Mode } from "../../api/types";
import { useDialogKeys } from "../../shared/keyboard";
import { ink } from "../../shared/theme";

export type Choice = Pick<Mode, "key" | "letter" | "label" | "explanation">;

interface Props {
  title: string;
  note?: string;
  choices: readonly Choice[];
  onChoose: (key: string) => void;
  onClose: () => void;
}

export function ChoicePanel({ title, note, choices, onChoose, onClose }: Props) {
  const body = useRef<HTMLDivElement>(null);
  useDialogKeys(
    Object.fromEntries(choices.map((choice) => [choice.letter, () => onChoose(choice.key)])),
    body,
  );
  return (
    <NamedDialog open onClose={onClose} name={title} maxWidth="md" fullWidth>
      <Box ref={body} sx={{ p: 3 }}>
        <Typography variant="h1">{title}</Typography>
        {note && <Typography sx={{ color: ink.soft, mb: 1 }}>{note}</Typography>}
        <Box sx={{ display: "grid", gridTemplateColumns: { sm: "1fr 1fr" }, gap: 1.25, mt: 2 }}>
          {choices.map((choice) => (
            <Box
              key={choice.key}
              component="button"
              type="button"
              onClick={() => onChoose(choice.key)}
              sx={{
                display: "grid",
                gridTemplateColumns: "48px 1fr",
                alignItems: "center",
                textAlign: "left",
                font: "inherit",
                color: "inherit",
                bgcolor: "transparent",
                border: `2px solid ${ink.ink}`,
                p: 1.25,
                cursor: "pointer",
                "&:hover": { bgcolor: ink.paper },
              }}
            >
              <Box
                component="span"
                sx={{
                  fontWeight: 700,
                  fontSize: "1.3rem",
                  border: `2px solid ${ink.ink}`,
                  width: 34,
                  textAlign: "center",
                }}
              >
                {choice.letter.toUpperCase()}
              </Box>
              <span>
                <Typography component="span" sx={{ display: "block", fontWeight: 700, fontSize: "1.2rem" }}>
                  {choice.label}
                </Typography>
                <Typography component="span" variant="body2" sx={{ color: ink.soft }}>
                  {choice.explanation}
                </Typography>
              </span>
            </Box>
          ))}
        </Box>
        <Typography variant="body2" sx={{ mt: 2, color: ink.soft }}>
          Esc goes back without noting anything.
        </Typography>
      </Box>
    </NamedDialog>
  );
}
