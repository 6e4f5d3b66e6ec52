/** A way in, to be read out, typed and photographed: a code, its address, and that for cameras. */
import { Box, Typography } from "@mui/material";
import type { ReactNode } from "react";
import { OnlyHere } from "../shared/OnlyHere";
import { condensed } from "../shared/theme";
import { QrCode } from "./QrCode";

interface Props {
  picture: readonly string[];
  code: string;
  address: string;
  sizePx: number;
  /** How large the code stands there. */
  codeSize: string;
  above?: ReactNode;
  children?: ReactNode;
}

export function WayIn({ picture, code, address, sizePx, codeSize, above, children }: Props) {
  return (
    <Box sx={{ display: "flex", gap: 3, alignItems: "center", flexWrap: { xs: "wrap", sm: "nowrap" } }}>
      <QrCode rows={picture} label="Code of the address to join at" sizePx={sizePx} />
      <Box>
        {above}
        <Typography
          sx={{
            fontFamily: condensed,
            fontWeight: 700,
            fontSize: codeSize,
            lineHeight: 1.05,
            wordBreak: "break-word",
          }}
        >
          {code}
        </Typography>
        <Typography sx={{ wordBreak: "break-all" }}>{address}</Typography>
        <OnlyHere address={address} />
        {children}
      </Box>
    </Box>
  );
}
