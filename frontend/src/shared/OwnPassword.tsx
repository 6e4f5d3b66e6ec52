/** The own password where something asks for it once more; whoever signs in with the school's account has none. */
import { TextField, type TextFieldProps } from "@mui/material";
import { useSession } from "../api/queries";

interface Props {
  value: string;
  /** What is wrong with it, if anything. */
  said: string | undefined;
  onType: (typed: string) => void;
  look?: TextFieldProps;
}

export function OwnPassword({ value, said, onType, look }: Props) {
  const hasPassword = useSession().data?.teacher?.has_password ?? true;
  if (!hasPassword) return null;
  return (
    <TextField
      required
      type="password"
      label="Your password"
      value={value}
      error={said !== undefined}
      helperText={said}
      autoComplete="current-password"
      onChange={(event) => onType(event.target.value)}
      {...look}
    />
  );
}
