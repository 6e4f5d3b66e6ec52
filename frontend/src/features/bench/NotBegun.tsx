/** A trial that began here without a network, and that the server does not take as it is: the teacher says what becomes of it. */
import { Button } from "@mui/material";
import { useState } from "react";
import { plural } from "../../shared/format";
import { Notice } from "../../shared/states";
import type { BenchTrial } from "./useTrial";

export function NotBegun({ bench, onLeftOut }: { bench: BenchTrial; onLeftOut: () => void }) {
  const [sure, setSure] = useState(false);
  const refused = bench.beginning?.refused;
  if (!refused) return null;
  const entries = `${bench.pending.length} ${plural("entry", bench.pending.length)}`;
  const leave = () => {
    if (!sure) return setSure(true);
    void bench.leaveAllOut().then(onLeftOut);
  };
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
      <Button size="small" sx={{ ml: 1 }} onClick={leave}>
        {sure ? `Really leave out the test and its ${entries}` : "Leave it out"}
      </Button>
    </Notice>
  );
}
