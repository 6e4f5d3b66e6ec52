/** The code that lets teams in, on the brief for all to see; nothing while the door is shut. */
import { Box, Typography } from "@mui/material";
import { QrCode } from "../../drawing/QrCode";
import { condensed, ink } from "../../shared/theme";
import { useDoor } from "./useDoor";

export function LessonCode({ run }: { run: number }) {
  const door = useDoor(run, true, false).data;
  if (!door?.code) return null;
  return (
    <Box
      sx={{ display: "flex", gap: 2, alignItems: "center", mt: 2, border: `2px solid ${ink.ink}`, p: 1.5 }}
    >
      <QrCode rows={door.picture} label="Code of the address to join at" sizePx={120} />
      <Box>
        <Typography sx={{ fontSize: "1.25rem" }}>With your team’s tablet, come in with</Typography>
        <Typography sx={{ fontFamily: condensed, fontWeight: 700, fontSize: "3rem", lineHeight: 1.1 }}>
          {door.code}
        </Typography>
        <Typography sx={{ color: ink.soft, wordBreak: "break-all" }}>{door.address}</Typography>
      </Box>
    </Box>
  );
}
