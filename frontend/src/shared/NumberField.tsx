/** A field for a plain number: what is typed stays as typed, also while it is empty, and the number follows. */
import { TextField, type TextFieldProps } from "@mui/material";
import { useState } from "react";

type Props = Omit<TextFieldProps, "value" | "onChange" | "type"> & {
  value: number | null;
  onNumber: (value: number | null) => void;
};

export function NumberField({ value, onNumber, ...rest }: Props) {
  const [text, setText] = useState(value === null ? "" : String(value));
  const typed = text.trim() === "" ? null : Number(text);
  // A value from elsewhere replaces the text; an emptied field waits for what is typed next.
  const shown =
    typed === value || (typed === null && (value === 0 || value === null)) ? text : String(value ?? "");
  return (
    <TextField
      {...rest}
      type="number"
      value={shown}
      onChange={(event) => {
        setText(event.target.value);
        onNumber(event.target.value.trim() === "" ? null : Number(event.target.value));
      }}
    />
  );
}
