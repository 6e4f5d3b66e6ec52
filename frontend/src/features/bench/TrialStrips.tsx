/** The lines under the drawing: the steps so far, and in words whether they are saved. */
import { Box, Typography } from "@mui/material";
import { useLayoutEffect, useRef } from "react";
import type { BenchMeasure, Step, TrialResult, UnitSystem } from "../../api/types";
import { plural } from "../../shared/format";
import { bareButton, ink } from "../../shared/theme";
import { measureWords } from "./roundWords";
import type { BenchTrial } from "./useTrial";

export function SavingWords({ bench }: { bench: BenchTrial }) {
  const waiting = bench.pending.length;
  const entries = `${waiting} ${plural("entry", waiting)}`;
  const words = {
    saved: "saved",
    sending: "saving",
    offline: `waiting for the network, ${entries} kept here`,
    signed_out: `signed out, ${entries} kept here: sign in again in another tab`,
    out: `not taken, ${entries} kept here`,
    busy: "at another bench",
    not_begun: "not begun at the server, kept here",
  }[bench.saving];
  const colour = bench.saving === "saved" || bench.saving === "sending" ? ink.held : ink.watch;
  return (
    <Typography
      role="status"
      data-saving={bench.saving}
      sx={{ fontWeight: 600, color: colour, whiteSpace: "nowrap" }}
    >
      <span aria-hidden="true">{bench.saving === "saved" ? "●" : "◐"}</span> {words}
    </Typography>
  );
}

interface StepStripProps {
  steps: readonly Step[];
  name: (step: Step) => string;
  signs: ReadonlyMap<string, string>;
  /** Steps whose first writing was put right. */
  corrected: readonly string[];
  onStep: (step: Step) => void;
}

const STEP_WORD = {
  waiting: "waiting",
  held: "held",
  broke: "broke it",
  not_counted: "not counted",
} as const;
const STEP_COLOUR = { waiting: ink.watch, held: ink.held, broke: ink.broke, not_counted: ink.soft } as const;

/** The steps so far on one line, scrolled to the latest; one that is touched can be put right. */
export function StepStrip({ steps, name, signs, corrected, onStep }: StepStripProps) {
  const scroller = useRef<HTMLDivElement>(null);
  useLayoutEffect(() => {
    if (scroller.current) scroller.current.scrollLeft = scroller.current.scrollWidth;
  }, [steps.length]);
  return (
    <Box
      ref={scroller}
      role="region"
      aria-label="Steps"
      tabIndex={0}
      sx={{
        flex: 1,
        minWidth: 0,
        overflowX: "auto",
        scrollbarWidth: "none",
        maskImage: "linear-gradient(to right, transparent, black 28px)",
      }}
    >
      <Box
        component="ol"
        sx={{ display: "flex", gap: 2.5, listStyle: "none", m: 0, p: 0, pl: "28px", minHeight: 24 }}
      >
        {steps.map((step) => (
          <Box component="li" key={step.event_id} sx={{ whiteSpace: "nowrap" }}>
            <Box
              component="button"
              type="button"
              title="Put this step right"
              onClick={() => onStep(step)}
              sx={{
                ...bareButton,
                bgcolor: "transparent",
                fontWeight: 700,
                textDecoration: "underline dotted",
                p: 0,
              }}
            >
              {step.kind === "remove" && "off: "}
              {name(step)}
            </Box>{" "}
            {corrected.includes(step.event_id) && <span style={{ color: ink.watch }}>corrected, </span>}
            <span style={{ color: STEP_COLOUR[step.state] }}>
              {step.signs.map((sign) => `${(signs.get(sign) ?? sign).toLowerCase()}, `)}
              {step.kind === "remove" ? "" : STEP_WORD[step.state]}
            </span>
          </Box>
        ))}
      </Box>
    </Box>
  );
}

/** What was measured so far, and the signs, of a test in rounds. */
export function RoundStrip({
  shown,
  measures,
  units,
}: {
  shown: TrialResult;
  measures: readonly BenchMeasure[];
  units: UnitSystem;
}) {
  const lines = shown.taken.map((reading) => {
    const spec = measures.find((measure) => measure.key === reading.key);
    return spec ? `${spec.label} ${measureWords(spec, reading.value_si, units)}` : reading.key;
  });
  return (
    <Typography role="region" aria-label="Measured" sx={{ flex: 1, minWidth: 0, minHeight: 24 }}>
      {lines.join(" · ")}
    </Typography>
  );
}
