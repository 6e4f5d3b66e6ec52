/** What has to be said above the keys: cautions, what could not be saved, another bench, what the plan warns of. */
import { Box, Button, Typography } from "@mui/material";
import { useMutation } from "@tanstack/react-query";
import type { TrialState } from "../../api/types";
import { Notice, sentenceOf } from "../../shared/states";
import { condensed, ink } from "../../shared/theme";
import { useRunState } from "../run";
import { NotBegun } from "./NotBegun";
import { SetAside } from "./SetAside";
import type { BenchTrial } from "./useTrial";

/** A made-up trial says so, and what its structure does. */
export function RehearsalLine({
  state,
  ended,
  onLeave,
}: {
  state: TrialState;
  ended: boolean;
  /** Ends it, wherever it stands: nothing of it is kept as a result. */
  onLeave: (() => void) | null;
}) {
  if (!state.rehearsal) return null;
  return (
    <Box
      role="status"
      sx={{
        display: "flex",
        gap: 2,
        alignItems: "baseline",
        bgcolor: ink.watchPale,
        border: `3px dashed ${ink.watchFill}`,
        px: 1.5,
        py: 0.4,
      }}
    >
      <Typography sx={{ fontWeight: 700 }}>Rehearsal, never a result.</Typography>
      <Typography sx={{ fontSize: "1.25rem", fontWeight: state.rehearsal.broke ? 700 : 400 }}>
        {ended ? "Go on when you like." : state.rehearsal.says}
      </Typography>
      {onLeave && (
        <Button size="small" sx={{ ml: "auto" }} onClick={onLeave}>
          End the rehearsal
        </Button>
      )}
    </Box>
  );
}

function Caution({ says }: { says: string }) {
  return (
    <Box
      role="alert"
      sx={{
        display: "inline-flex",
        gap: 1,
        border: `3px solid ${ink.watchFill}`,
        bgcolor: ink.sheet,
        px: 1.5,
        py: 0.5,
        fontWeight: 600,
      }}
    >
      <span aria-hidden="true" style={{ color: ink.watch }}>
        ▲
      </span>
      {says}
    </Box>
  );
}

/** That the teacher has stopped a team's own test: nobody reads past it. */
function Stop({ says }: { says: string }) {
  return (
    <Box
      role="alert"
      sx={{
        flex: "1 1 100%",
        display: "flex",
        alignItems: "center",
        gap: 2,
        bgcolor: ink.oxide,
        color: ink.sheet,
        px: 2,
        py: 1,
      }}
    >
      <Box
        component="span"
        sx={{ fontFamily: condensed, fontWeight: 700, fontSize: "3.4rem", lineHeight: 1 }}
      >
        STOP
      </Box>
      <Typography sx={{ fontSize: "1.25rem", fontWeight: 600 }}>{says}</Typography>
    </Box>
  );
}

export function TrialNotices({
  bench,
  state,
  ended,
  onLeftOut,
}: {
  bench: BenchTrial;
  state: TrialState;
  ended: boolean;
  /** It began here, and is left out with all its entries. */
  onLeftOut: () => void;
}) {
  const takeOver = useMutation({ mutationFn: bench.takeOver });
  const { atStation } = useRunState();
  const stop = atStation && !ended ? (Object.values(state.held_back)[0] ?? "") : "";
  // Who stopped it has it.
  const busy = bench.saving === "busy" && stop === "";
  const caution = ended ? null : state.caution;
  const warnings = ended || state.round_plan !== null ? "" : state.plan.warnings.join(" ");
  // What a version before this one kept here for a time without network says nothing of it.
  const noticed: TrialState["noticed"] | undefined = state.noticed;
  const seen = ended || bench.pending.length > 0 ? [] : (noticed ?? []);
  const unsaved = bench.aside.length > 0 || bench.beginning?.refused || bench.trouble !== "" || !bench.keeps;
  const quiet = state.pile === null && caution === null && warnings === "" && seen.length === 0;
  if (!unsaved && !busy && stop === "" && quiet) return null;
  return (
    <Box
      sx={{
        display: "flex",
        flexWrap: "wrap",
        gap: 1.5,
        alignItems: "center",
        "& > *": { my: "0 !important" },
      }}
    >
      {stop && <Stop says={stop} />}
      {caution && <Caution says={caution} />}
      {state.pile && <Notice kind={state.pile.agrees ? "done" : "caution"}>{state.pile.sentence}</Notice>}
      {seen.map(({ sign, sentence }) => (
        <Notice key={sign} kind="caution">
          {sentence}
          <Button
            size="small"
            variant="outlined"
            sx={{ ml: 2 }}
            onClick={() => bench.act("observe", { sign })}
          >
            Yes, write it down
          </Button>
        </Notice>
      ))}
      <NotBegun bench={bench} onLeftOut={onLeftOut} />
      <SetAside bench={bench} />
      {busy && (
        <Notice kind="caution">
          This trial is open at another bench. Follow it there, or{" "}
          <Button
            size="small"
            variant="outlined"
            disabled={takeOver.isPending}
            onClick={() => takeOver.mutate()}
          >
            take it over here
          </Button>
          {takeOver.isError && <> {sentenceOf(takeOver.error)}</>}
        </Notice>
      )}
      {warnings !== "" && <Typography sx={{ color: ink.watch, flex: "1 1 20rem" }}>{warnings}</Typography>}
    </Box>
  );
}
