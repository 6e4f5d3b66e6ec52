/** The code that lets teams in, on the brief for all to see; nothing while the door is shut. */
import { Box, Typography } from "@mui/material";
import { WayIn } from "../../drawing/WayIn";
import { ink } from "../../shared/theme";
import { useDoor } from "./useDoor";

export function LessonCode({ run }: { run: number }) {
  const door = useDoor(run, true, false).data;
  if (!door?.code) return null;
  return (
    <Box sx={{ mt: 2, border: `2px solid ${ink.ink}`, p: 1.5 }}>
      <WayIn
        picture={door.picture}
        code={door.code}
        address={door.address}
        sizePx={120}
        codeSize="3rem"
        above={<Typography sx={{ fontSize: "1.25rem" }}>With your team’s tablet, come in with</Typography>}
      />
    </Box>
  );
}
