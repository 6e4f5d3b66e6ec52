/** Beside an address for other devices, where it leads to this machine alone: what makes the others reach it. */
import { Typography } from "@mui/material";
import { ink } from "./theme";

export function OnlyHere({ address }: { address: string }) {
  if (!/^https?:\/\/(127\.|localhost\b|\[::1\])/.test(address)) return null;
  return (
    <Typography variant="body2" sx={{ color: ink.watch, fontWeight: 600 }}>
      Only this machine reaches that address. For other devices, start Even Girder with: ./girder start
      --share
    </Typography>
  );
}
