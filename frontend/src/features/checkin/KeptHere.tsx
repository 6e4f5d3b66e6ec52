/** That some of a design's check-in is kept here, and what is asked about it. */
import { Button } from "@mui/material";
import { useQueryClient } from "@tanstack/react-query";
import type { Design } from "../../api/types";
import { Notice } from "../../shared/states";
import { SureButton } from "../../shared/SureButton";
import { keptCheckIns } from "./keptCheckIn";
import { useKept } from "./useCheckInWrite";

export function KeptHere({ design }: { design: Design }) {
  const kept = useKept(design.id);
  const all = keptCheckIns(useQueryClient());
  if (!kept) return null;
  if (!kept.refused)
    return (
      <Notice kind="caution">
        What was typed for {design.team.name} is kept here, and sent when the network is back.
      </Notice>
    );
  const { sentence, confirm } = kept.refused;
  return (
    <Notice kind="caution">
      {sentence} It is all still kept here.
      <Button
        size="small"
        variant="outlined"
        sx={{ ml: 2 }}
        onClick={() => void all.again(design.id, confirm)}
      >
        {confirm ? "What was typed here counts" : "Try it once more"}
      </Button>
      <SureButton
        says="Leave it out"
        sure="Really leave out what was typed here"
        onSure={() => void all.leaveOut(design.id)}
      />
    </Notice>
  );
}
