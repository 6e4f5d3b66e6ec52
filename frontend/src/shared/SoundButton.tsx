/** Sound on or off, by one touch. */
import { Button, type ButtonProps } from "@mui/material";
import { switchSound, useSoundOn } from "./sound";

interface Props extends Pick<ButtonProps, "sx"> {
  /** Where there is little room: a note alone. */
  small?: boolean;
}

export function SoundButton({ sx, small = false }: Props) {
  const on = useSoundOn();
  const word = on ? "Sound on" : "Sound off";
  return (
    <Button
      size="small"
      aria-label={word}
      aria-pressed={on}
      title={word}
      onClick={switchSound}
      sx={{ ...(small ? { minWidth: 0, px: 0.5, py: 0 } : {}), ...sx }}
    >
      {small ? (on ? "♪" : "♪ off") : `♪ ${word}`}
    </Button>
  );
}
