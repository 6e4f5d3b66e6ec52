/** Rows of keys, and the keyboard that presses them: one list for keyboard, touch and pointer. */
import { Box } from "@mui/material";
import { useKeys } from "../../app/keyboard";
import { KeyButton, type KeySpec } from "./KeyButton";
import type { BenchTrial } from "./useTrial";

/** The key that goes on from an ended trial, once its end is saved. */
export const goOnKey = (leaving: boolean, waiting: number, onGoOn: () => void): KeySpec => ({
  look: "place",
  letter: "N",
  title: "Go on",
  note: leaving && waiting > 0 ? "once it is saved" : "the result, and the next team",
  onPress: onGoOn,
  grow: 2,
});

/** The key that takes the latest entry back. */
export const undoKey = (bench: BenchTrial, undoable: string | null): KeySpec => ({
  look: "plain",
  letter: "Z",
  title: "Undo",
  onPress: () => bench.act("undo", { event: undoable ?? "" }),
  disabled: bench.saving === "busy" || !undoable || bench.undoWaits,
});

export function KeyRows({ rows, listening }: { rows: readonly KeySpec[][]; listening: boolean }) {
  const live = rows.flat().filter((key) => !key.disabled);
  useKeys(
    Object.fromEntries(
      live.flatMap((key) =>
        [key.letter === "↵" ? "enter" : key.letter.toLowerCase(), key.also].flatMap((name) =>
          name ? [[name, key.onPress]] : [],
        ),
      ),
    ),
    listening,
  );
  return (
    <>
      {rows.map((row, i) => (
        <Box
          key={i}
          sx={{
            display: "flex",
            gap: row.some((key) => key.small) ? 1 : 1.25,
            flexWrap: row.some((key) => key.small) ? "wrap" : "nowrap",
          }}
        >
          {row.map((key) => (
            <KeyButton key={key.title + key.letter} {...key} />
          ))}
        </Box>
      ))}
    </>
  );
}
