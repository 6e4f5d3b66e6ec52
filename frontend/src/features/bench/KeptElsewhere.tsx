/** Entries of other trials that still wait in this browser, each with the way to its trial. */
import { Link, Typography } from "@mui/material";
import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link as RouterLink } from "react-router";
import { ink } from "../../app/theme";
import { useRunState } from "../run/useRunState";
import { sendWhatIsKept, senderOf } from "./senders";
import { trialAddress } from "./TrialList";

/** Sends what an earlier visit left unsent, of whichever trial; gives the trials of which something still waits. */
export function useKept(): readonly string[] {
  const client = useQueryClient();
  const [waiting, setWaiting] = useState<readonly string[]>([]);
  useEffect(() => {
    let gone = false;
    let leave: (() => void)[] = [];
    void sendWhatIsKept(client).then(
      (trials) => {
        if (gone) return;
        const look = () =>
          setWaiting(
            trials.filter((trial) => {
              const { pending, aside } = senderOf(client, trial).snapshot();
              return pending.length + aside.length > 0;
            }),
          );
        leave = trials.map((trial) => senderOf(client, trial).subscribe(look));
        look();
      },
      // A browser without a database has kept nothing.
      () => undefined,
    );
    return () => {
      gone = true;
      leave.forEach((one) => one());
    };
  }, [client]);
  return waiting;
}

export function KeptElsewhere({
  trials,
  current,
}: {
  trials: readonly string[];
  current: string | undefined;
}) {
  const { state } = useRunState();
  const found = state.designs.flatMap((design) =>
    design.trials
      .filter((trial) => trial.id !== current && trials.includes(trial.id))
      .map((trial) => ({ design, trial })),
  );
  return found.map(({ design, trial }) => (
    <Typography key={trial.id} role="status" sx={{ color: ink.watch, fontWeight: 600, pt: 0.5 }}>
      Entries of {design.team.name}’s trial {trial.number} still wait here.{" "}
      <Link
        component={RouterLink}
        to={trialAddress(state.run.id, design.id, trial.id)}
        sx={{ color: ink.oxide }}
      >
        Look at them
      </Link>
    </Typography>
  ));
}
