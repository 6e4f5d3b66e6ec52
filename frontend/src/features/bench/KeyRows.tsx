/** Rows of keys, and the keyboard that presses them: one list for keyboard, touch and pointer. */
import { Box } from "@mui/material";
import { useKeys, type Keys } from "../../shared/keyboard";
import { KeyButton, type KeySpec } from "./KeyButton";

/** The name of a key as the keyboard gives it. */
const nameOf = (letter: string) => (letter === "↵" ? "enter" : letter.toLowerCase());

/** What the keyboard does: a key that cannot be pressed now is the bench's all the same, and does nothing. */
function keysOf(rows: readonly (readonly KeySpec[])[]): Keys {
  const specs = rows.flat();
  const named = (some: readonly KeySpec[], act: (key: KeySpec) => (() => void) | null) =>
    some.flatMap((key) => [key.letter, key.also].flatMap((name) => (name ? [[nameOf(name), act(key)]] : [])));
  return Object.fromEntries([
    ["enter", null],
    ...named(specs, () => null),
    ...named(
      specs.filter((key) => !key.disabled),
      (key) => key.onPress,
    ),
  ]) as Keys;
}

export function KeyRows({ rows }: { rows: readonly (readonly KeySpec[])[] }) {
  useKeys(keysOf(rows));
  return (
    <>
      {rows.map((row, i) => (
        <Box
          key={i}
          sx={{
            display: "flex",
            gap: row.some((key) => key.small) ? 1 : 1.25,
            // On a phone the large keys stand in two rows, with their words whole.
            flexWrap: row.some((key) => key.small) ? "wrap" : { xs: "wrap", sm: "nowrap" },
            // There what is pressed most comes first.
            order: { xs: row.some((key) => key.small) ? 1 : 0, sm: 0 },
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
