/** Entries of other trials that still wait in this browser, each with the way to its trial. */
import { Link, Typography } from "@mui/material";
import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useState, useSyncExternalStore } from "react";
import { Link as RouterLink } from "react-router";
import { keys } from "../../api/queries";
import type { Design } from "../../api/types";
import { ink } from "../../shared/theme";
import { useRunState } from "../run";
import { NotBegun } from "./NotBegun";
import { asksWhat } from "./outbox";
import { sendWhatIsKept, senderOf } from "./senders";
import { trialAddress } from "./TrialList";

/** Sends what was left unsent, of whichever trial, and names the trials other than this one of which it still waits. */
export function KeptElsewhere({ current }: { current: string | undefined }) {
  const client = useQueryClient();
  const { state } = useRunState();
  const [kept, setKept] = useState<readonly string[]>([]);
  useEffect(() => {
    let gone = false;
    sendWhatIsKept(client).then(
      (trials) => {
        if (!gone) setKept(trials);
      },
      // A browser without a database has kept nothing.
      () => undefined,
    );
    return () => {
      gone = true;
    };
  }, [client, current]);
  const known = state.designs.flatMap((design) => design.trials.map((trial) => trial.id));
  const unknown = kept.filter((trial) => trial !== current && !known.includes(trial));
  return (
    <>
      {state.designs.flatMap((design) =>
        design.trials
          .filter((trial) => trial.id !== current && kept.includes(trial.id))
          .map((trial) => <Waiting key={trial.id} design={design} trial={trial} />),
      )}
      {unknown.map((trial) => (
        <WaitingToBegin key={trial} trial={trial} />
      ))}
    </>
  );
}

/** A test that began here, and that the server does not know: nothing else on screen leads to it. */
function WaitingToBegin({ trial }: { trial: string }) {
  const { state } = useRunState();
  const client = useQueryClient();
  const sender = senderOf(client, trial);
  const { pending, beginning } = useSyncExternalStore(sender.subscribe, sender.snapshot);
  const design = state.designs.find((one) => one.id === beginning?.design);
  if (!beginning || !design) return null;
  if (!beginning.refused)
    return (
      <Typography role="status" sx={{ color: ink.watch, fontWeight: 600, pt: 0.5 }}>
        {design.team.name}’s test that began here waits for the network.
      </Typography>
    );
  return (
    <NotBegun
      bench={{
        pending,
        beginning,
        beginAgain: sender.beginAgain.bind(sender),
        leaveAllOut: sender.leaveAllOut.bind(sender),
      }}
      onLeftOut={() => void client.invalidateQueries({ queryKey: keys.run(state.run.id) })}
    />
  );
}

function Waiting({ design, trial }: { design: Design; trial: Design["trials"][number] }) {
  const { state } = useRunState();
  const sender = senderOf(useQueryClient(), trial.id);
  const { pending, aside } = useSyncExternalStore(sender.subscribe, sender.snapshot);
  if (pending.length === 0 && !aside.some(asksWhat)) return null;
  return (
    <Typography role="status" sx={{ color: ink.watch, fontWeight: 600, pt: 0.5 }}>
      Entries of {design.team.name}’s trial {trial.number} still wait here.{" "}
      <Link
        component={RouterLink}
        to={trialAddress(state.run.id, design.id, trial.id)}
        sx={{ color: ink.oxide }}
      >
        Look at them
      </Link>
    </Typography>
  );
}
