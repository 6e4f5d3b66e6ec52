/** Where the picture comes from: the camera, a file, or one that was made up to practise with. */
import { Box, Button, Link, Typography } from "@mui/material";
import { useMutation } from "@tanstack/react-query";
import { ApiError } from "../../api/client";
import { Notice, sentenceOf } from "../../shared/states";
import { ink } from "../../shared/theme";
import { useRunState } from "../run";
import { drawn } from "./eye";
import { LensLine } from "./LensLine";
import { PictureButtons } from "./PictureButtons";
import { useCardSets } from "./useCardSets";
import type { StandIn } from "./standins";

interface Looking {
  mutate: (asked: { file: File; confirmed: boolean }) => void;
  isPending: boolean;
  isError: boolean;
  error: Error | null;
  variables: { file: File; confirmed: boolean } | undefined;
}

interface Props {
  look: Looking;
  /** What has to be in the picture. */
  says: string;
  /** Made-up pictures to practise with, and what each shows. */
  standins: readonly (readonly [StandIn, string])[];
  /** Whether the way to the printed cards is offered. */
  cards?: boolean;
  /** Whether the way to the tablet's lens is offered. */
  lens?: boolean;
  /** What is said while the server looks. */
  seeks?: string;
}

const SEEKS = "The card is being looked for …";

export function TakePicture({ look, says, standins, cards = true, lens = false, seeks = SEEKS }: Props) {
  const { state } = useRunState();
  const sets = useCardSets();
  const number = sets.data?.[0]?.number ?? 1;
  const made = useMutation({
    mutationFn: (key: StandIn) => drawn(key, number),
    onSuccess: (file) => look.mutate({ file, confirmed: false }),
  });
  const busy = look.isPending || made.isPending;
  const asks = look.error instanceof ApiError && look.error.confirm;
  return (
    <Box sx={{ maxWidth: 640 }}>
      <Typography sx={{ mb: 1 }}>{says}</Typography>
      {cards && (
        <Typography variant="body2" component="div" sx={{ color: ink.soft }}>
          Print the cards:{" "}
          {(sets.data ?? []).map((set, i) => (
            <span key={set.number}>
              {i > 0 && " · "}
              <Link
                href={`/api/runs/${state.run.id}/print/scale-cards?set=${set.number}`}
                target="_blank"
                rel="noopener"
              >
                set {set.number}
              </Link>
              {set.measured && `, bar ${set.bar_text}`}
            </span>
          ))}
          . Keep to one; a fresh set is for another printer or paper.
        </Typography>
      )}
      {lens && <LensLine setNumber={number} />}
      <PictureButtons
        take="Take the picture"
        disabled={busy}
        onFile={(file) => look.mutate({ file, confirmed: false })}
      />
      {busy && (
        <Typography role="status" sx={{ fontWeight: 600 }}>
          {made.isPending ? "The picture is being drawn …" : seeks}
        </Typography>
      )}
      {look.isError && !busy && (
        <Notice kind={asks ? "caution" : "problem"}>
          {sentenceOf(look.error)}
          {asks && (
            <Button
              size="small"
              variant="outlined"
              sx={{ ml: 2 }}
              onClick={() => look.variables && look.mutate({ file: look.variables.file, confirmed: true })}
            >
              It is right
            </Button>
          )}
        </Notice>
      )}
      {made.isError && <Notice kind="problem">{sentenceOf(made.error)}</Notice>}
      <Typography variant="body2" sx={{ color: ink.soft, mt: 2 }}>
        No camera at hand? Try it with a made-up picture of
        {standins.map(([key, label], i) => (
          <span key={key}>
            {i > 0 && " or of"}{" "}
            <Button
              size="small"
              sx={{ p: 0, minWidth: 0, verticalAlign: "baseline" }}
              disabled={busy}
              onClick={() => made.mutate(key)}
            >
              {label}
            </Button>
          </span>
        ))}
        .
      </Typography>
    </Box>
  );
}
