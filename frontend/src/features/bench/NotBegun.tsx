/** A trial that began here without a network, and that the server does not take as it is: the teacher says what becomes of it. */
import { Button } from "@mui/material";
import { plural } from "../../shared/format";
import { Notice } from "../../shared/states";
import { SureButton } from "../../shared/SureButton";
import type { BenchTrial } from "./useTrial";

type Begun = Pick<BenchTrial, "beginning" | "pending" | "beginAgain" | "leaveAllOut">;

export function NotBegun({ bench, onLeftOut }: { bench: Begun; onLeftOut: () => void }) {
  const refused = bench.beginning?.refused;
  if (!refused) return null;
  const entries = `${bench.pending.length} ${plural("entry", bench.pending.length)}`;
  return (
    <Notice kind="caution">
      {refused.sentence} The test began here without a network, and is kept here with {entries}.
      <Button
        size="small"
        variant="outlined"
        sx={{ ml: 2 }}
        onClick={() => bench.beginAgain(refused.confirm)}
      >
        {refused.confirm ? "Yes, it is" : "Try it once more"}
      </Button>
      <SureButton
        says="Leave it out"
        sure={`Really leave out the test and its ${entries}`}
        onSure={() => void bench.leaveAllOut().then(onLeftOut)}
      />
    </Notice>
  );
}
