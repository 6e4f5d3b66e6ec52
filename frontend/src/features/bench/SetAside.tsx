/** What could not be written down: named, with the reason, and what can become of it. Nothing is dropped in silence. */
import { Button } from "@mui/material";
import { Notice } from "../../shared/states";
import { useRunState } from "../run";
import { entryWords } from "./entryWords";
import { asksWhat, type AsideEvent } from "./outbox";
import type { BenchTrial } from "./useTrial";

export function SetAside({ bench }: { bench: BenchTrial }) {
  return (
    <>
      {bench.aside.map((event) => (
        <Entry key={event.id} event={event} bench={bench} />
      ))}
      {bench.trouble !== "" && <Notice kind="caution">{bench.trouble}</Notice>}
      {!bench.keeps && (
        <Notice kind="caution">
          This browser keeps nothing for later. Leave this page open until it says “saved”.
        </Notice>
      )}
    </>
  );
}

function Entry({ event, bench }: { event: AsideEvent; bench: BenchTrial }) {
  const { state, family } = useRunState();
  const busy = bench.saving === "busy";
  const words = <b>{entryWords(event, state.run, family)}</b>;
  const leave = (
    <Button size="small" sx={{ ml: 1 }} onClick={() => bench.leaveOut(event.id)}>
      Leave it out
    </Button>
  );
  const again = (label: string, more: Record<string, unknown> = {}) => (
    <Button
      size="small"
      variant="outlined"
      sx={{ ml: 2 }}
      disabled={busy}
      onClick={() => bench.again(event.id, more)}
    >
      {label}
    </Button>
  );
  if (event.why === "stale")
    return (
      <Notice kind="caution">
        Entered here while the trial went on at another bench: {words}. Add it now?
        {again("Add it now")}
        {leave}
      </Notice>
    );
  if (event.why === "broken")
    return (
      <Notice kind="problem">
        {words} could not be written down. {event.sentence}
        {again("Try it once more")}
        {leave}
      </Notice>
    );
  return (
    <Notice kind={event.confirm ? "caution" : "problem"}>
      {!event.told && <>{words}: </>}
      {event.sentence}
      {event.confirm && again("It is right", { confirmed: true })}
      {asksWhat(event) && leave}
    </Notice>
  );
}
