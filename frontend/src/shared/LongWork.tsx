/** Work that takes seconds: how far it is, a way to stop it, and a paper that is ready to be opened. */
import { Box, Button, LinearProgress, Link, Typography } from "@mui/material";
import { useMutation, type UseMutationResult } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { followedFile, type Step } from "../api/longWork";
import { Notice, sentenceOf } from "./states";

export type LongWork<Asked, Made> = UseMutationResult<Made | null, unknown, Asked> & {
  step: Step | null;
  stop: () => void;
};

/** Long work that can be begun, followed and stopped; stopped, it comes to `null`. It stops when its page is left. */
export function useLongWork<Asked, Made>(
  begin: (asked: Asked, onStep: (step: Step) => void, signal: AbortSignal) => Promise<Made>,
  onMade?: (made: Made) => Promise<void> | void,
): LongWork<Asked, Made> {
  const [step, setStep] = useState<Step | null>(null);
  const running = useRef<AbortController | null>(null);
  useEffect(() => () => running.current?.abort(), []);
  const work = useMutation<Made | null, unknown, Asked>({
    mutationFn: async (asked) => {
      const controller = new AbortController();
      running.current = controller;
      setStep(null);
      try {
        return await begin(asked, setStep, controller.signal);
      } catch (error) {
        if (controller.signal.aborted) return null;
        throw error;
      } finally {
        setStep(null);
      }
    },
    onSuccess: async (made) => {
      if (made !== null) await onMade?.(made);
    },
  });
  return { ...work, step, stop: () => running.current?.abort() };
}

/** How far the work is, while it goes on. */
export function Progress({
  work,
  what,
}: {
  work: { isPending: boolean; step: Step | null; stop: () => void };
  what: string;
}) {
  if (!work.isPending) return null;
  const { done, of, doing } = work.step ?? { done: 0, of: 0, doing: "Sending it" };
  return (
    <Box
      sx={{
        display: "grid",
        gridTemplateColumns: "1fr auto",
        columnGap: 1,
        width: 420,
        maxWidth: 1,
      }}
    >
      <Box sx={{ alignSelf: "center" }}>
        <LinearProgress
          aria-label={what}
          {...(of > 0 ? { variant: "determinate" as const, value: (100 * done) / of } : {})}
        />
        <Typography variant="body2" role="status">
          {doing}
          {of > 0 && ` (${done} of ${of})`}
        </Typography>
      </Box>
      <Button aria-label={`Stop: ${what}`} onClick={work.stop}>
        Stop
      </Button>
    </Box>
  );
}

/** A link to a paper (give it its address as key) that takes seconds to make: touched, it tells how far it is, and is there to be opened or kept. */
export function PaperLink({ href, label, bold = false }: { href: string; label: string; bold?: boolean }) {
  const [made, setMade] = useState<{ url: string; name: string } | null>(null);
  const work = useLongWork(
    (address: string, onStep, signal) => followedFile(address, onStep, signal),
    (file: File) => setMade({ url: URL.createObjectURL(file), name: file.name }),
  );
  useEffect(
    () => () => {
      if (made) URL.revokeObjectURL(made.url);
    },
    [made],
  );
  return (
    <>
      <Link
        href={href}
        target="_blank"
        rel="noopener"
        sx={{ fontWeight: bold ? 700 : 600 }}
        onClick={(event) => {
          // In a tab of its own when that is asked for by hand.
          if (event.ctrlKey || event.metaKey || event.shiftKey) return;
          event.preventDefault();
          if (!work.isPending) work.mutate(href);
        }}
      >
        {label}
      </Link>
      <Progress work={work} what={label} />
      {made && !work.isPending && (
        <Box role="status" sx={{ display: "flex", flexWrap: "wrap", columnGap: 2 }}>
          <span>{label} is ready:</span>
          <Link href={made.url} target="_blank" sx={{ fontWeight: 700 }}>
            Open
          </Link>
          <Link href={made.url} download={made.name}>
            Save
          </Link>
        </Box>
      )}
      {work.isError && <Notice kind="problem">{sentenceOf(work.error)}</Notice>}
    </>
  );
}
