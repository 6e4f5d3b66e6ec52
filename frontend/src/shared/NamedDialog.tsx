/** A dialog that says its name to whoever hears the page: the name has to stand at the dialog itself, not around it. */
import { Dialog, type DialogProps } from "@mui/material";

export function NamedDialog({ name, ...rest }: Omit<DialogProps, "slotProps"> & { name: string }) {
  return <Dialog {...rest} slotProps={{ paper: { "aria-label": name } }} />;
}
