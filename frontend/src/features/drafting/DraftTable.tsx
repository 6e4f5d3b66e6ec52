/** A draft: the answer on top, drawings to scale, the ladder of ways to fail, and what one step more would do. */
import { Box, Button, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import { useState } from "react";
import { ApiError } from "../../api/client";
import { useDraft, whyOfDraft, type DraftSource } from "../../api/queries";
import type { Draft, DraftKind, Stock } from "../../api/types";
import { formatFact, formatLoad, formatMass } from "../../shared/format";
import { Loading } from "../../shared/states";
import { bareButton, condensed, ink } from "../../shared/theme";
import { useUnits } from "../../shared/units";
import { useSettled } from "../../shared/useSettled";
import { WhyNumber } from "../../shared/Why";
import { CurveChart } from "../../drawing/CurveChart";
import { Ladder } from "../../drawing/Ladder";
import { SetupDrawing } from "../../drawing/SetupDrawing";
import { TrussDrawing } from "../../drawing/TrussDrawing";
import { InMotion } from "./InMotion";
import { Controls } from "./Controls";
import { laidOut, request, withMove, withTyped, type DraftState } from "./draftState";
import { LAYOUTS, PLAIN_LAYOUT } from "./layouts";

interface Props {
  kind: DraftKind;
  state: DraftState;
  stocks: readonly Stock[];
  onChange: (state: DraftState) => void;
  source: DraftSource;
  /** What stands in place of the ladder while the answer is kept back. */
  veil?: React.ReactNode;
  /** Beside the headline: what can be done with the draft. */
  actions?: React.ReactNode;
}

export function DraftTable({ kind, state, stocks, onChange, source, veil, actions }: Props) {
  const settled = useSettled(state, 40);
  const asked = request(kind.key, settled, source.run);
  const worked = useDraft(asked, source);
  const error = worked.error instanceof ApiError ? worked.error : null;
  // What cannot be built leaves the last drawing that could on the table, faded.
  const [last, setLast] = useState<Draft | undefined>(undefined);
  if (worked.data && worked.data !== last) setLast(worked.data);
  const draft = last?.kind === kind.key ? last : undefined;
  const fields = error?.fields ?? {};
  const placed = Object.keys(fields).some((key) => kind.params.some((param) => param.key === key));
  const layout = LAYOUTS[kind.key] ?? PLAIN_LAYOUT;
  const params = laidOut(kind, state.typed);
  const hand = layout.hand.flatMap((key) => params.filter((param) => param.key === key));
  const others = params.filter((param) => !layout.hand.includes(param.key));
  const shared = {
    typed: state.typed,
    values: draft?.values ?? {},
    stocks,
    problems: fields,
    onTyped: (key: string, text: string) => onChange(withTyped(state, key, text)),
  };
  if (!draft && !error) return <Loading what="the draft" />;
  return (
    <Box sx={{ pt: 1.5 }}>
      <Box sx={{ display: "flex", gap: 3, alignItems: "start", mb: 1 }}>
        <Box sx={{ flex: 1, minWidth: 0 }}>
          <Typography
            variant="h1"
            sx={{ fontSize: "2.4rem", color: error ? ink.oxide : ink.ink }}
            aria-live="polite"
          >
            {error ? "This cannot be built as it stands." : draft?.headline}
          </Typography>
          <Typography sx={{ color: ink.soft, fontSize: "1.1rem" }}>
            {error ? (placed ? "Look at what is marked below." : error.message) : draft?.note}{" "}
            {!error && source.whole && draft?.prediction && (
              <WhyNumber why={whyOfDraft(asked, "prediction")}>Why this number?</WhyNumber>
            )}
          </Typography>
          {error && placed && !Object.values(fields).includes(error.message) && (
            <Typography>{error.message}</Typography>
          )}
        </Box>
        {actions}
      </Box>
      <Box sx={{ display: "grid", gridTemplateColumns: { lg: "minmax(0, 1.42fr) minmax(0, 1fr)" }, gap: 4 }}>
        <Box sx={{ minWidth: 0 }}>
          <Box sx={{ opacity: error ? 0.5 : 1 }}>
            {draft && <Views draft={draft} kind={kind} state={state} onChange={onChange} />}
          </Box>
          {source.whole && !source.veiled && <InMotion key={kind.key} request={asked} />}
          <Box sx={{ mt: 1 }}>
            {hand.length > 0 && <Controls params={hand} columns={1} {...shared} />}
            <Controls params={others.filter((other) => !other.fine)} columns={2} {...shared} />
            <Finer params={others.filter((other) => other.fine)} shared={shared} />
          </Box>
          {draft && layout.curve === "row" && <Curves draft={draft} />}
        </Box>
        <Box sx={{ minWidth: 0 }}>
          {veil ?? (draft && <Answers draft={draft} onTyped={shared.onTyped} faded={error !== null} />)}
          {draft && layout.curve === "side" && <Curves draft={draft} />}
        </Box>
      </Box>
      <Lessons kind={kind} />
    </Box>
  );
}

function Views({
  draft,
  kind,
  state,
  onChange,
}: { draft: Draft } & Pick<Props, "kind" | "state" | "onChange">) {
  const rows = (LAYOUTS[kind.key] ?? PLAIN_LAYOUT).rows;
  return (
    <>
      {rows.map((row, i) => {
        const shown = row.views.flatMap((place) => {
          const view = draft.views.find((view) => view.key === place.key);
          return view ? [{ ...place, view }] : [];
        });
        const whole = shown.reduce((sum, view) => sum + view.share, 0);
        return (
          <Box
            key={i}
            sx={{
              display: "grid",
              gridTemplateColumns: shown.map((view) => `${view.share}fr`).join(" "),
              gap: 2,
            }}
          >
            {shown.map(({ key, share, view }) => {
              const width = Math.round((700 * share) / whole);
              const field = { drawing: view.drawing, width, height: row.height };
              return (
                <Box key={key} component="figure" sx={{ m: 0 }} data-view={key}>
                  <Typography component="figcaption" variant="body2" sx={{ color: ink.soft }}>
                    {view.title}
                  </Typography>
                  {kind.key === "truss" ? (
                    <TrussDrawing
                      {...field}
                      moves={state.moves}
                      onMove={(joint, to) => onChange(withMove(state, joint, to))}
                    />
                  ) : (
                    <SetupDrawing {...field} room={22} />
                  )}
                </Box>
              );
            })}
          </Box>
        );
      })}
      {Object.keys(state.moves).length > 0 && (
        <Button onClick={() => onChange({ ...state, moves: {} })} sx={{ px: 0 }}>
          Put the joints back
        </Button>
      )}
    </>
  );
}

/** The ladder, the explanation of a state, what would help, and the figures. */
function Answers({
  draft,
  onTyped,
  faded,
}: {
  draft: Draft;
  onTyped: (key: string, text: string) => void;
  faded: boolean;
}) {
  const units = useUnits();
  const [picked, setPicked] = useState("");
  const [young, setYoung] = useState(false);
  const { prediction } = draft;
  const states = prediction?.limit_states ?? [];
  const state = states.find((state) => state.key === picked) ?? states[0];
  const mark =
    draft.mark_n !== null && draft.mark_words ? { newtons: draft.mark_n, words: draft.mark_words } : null;
  return (
    <Box sx={{ opacity: faded ? 0.4 : 1 }}>
      {prediction && state && (
        <>
          <Typography variant="body2" sx={{ color: ink.soft }}>
            Every way it can fail, weakest first; {draft.load_words}
          </Typography>
          <Ladder states={states} push={draft.push} mark={mark} chosen={state.key} onChoose={setPicked} />
          <Box
            sx={{ borderLeft: `5px solid ${state === states[0] ? ink.oxide : ink.ink}`, pl: 1.5, my: 0.5 }}
          >
            <Typography data-testid="why">{young ? state.young : state.explanation}</Typography>
            <Box sx={{ display: "flex", gap: 1, alignItems: "center" }}>
              <ToggleButtonGroup
                exclusive
                size="small"
                value={young ? "young" : "older"}
                aria-label="How it is explained"
                onChange={(_, value: string | null) => value && setYoung(value === "young")}
                sx={{
                  "& .MuiToggleButton-root": { px: 1, py: 0, textTransform: "none", fontSize: "0.85rem" },
                }}
              >
                <ToggleButton value="older">for older readers</ToggleButton>
                <ToggleButton value="young">in short words</ToggleButton>
              </ToggleButtonGroup>
              <Typography variant="body2" sx={{ color: ink.soft }}>
                {state.source}
              </Typography>
            </Box>
          </Box>
          {prediction.what_helps.length > 0 && (
            <Typography sx={{ fontWeight: 600, mt: 1 }}>What would help most</Typography>
          )}
          {prediction.what_helps.map((step) => (
            <Box
              key={step.change}
              component="button"
              type="button"
              onClick={() => onTyped(step.key, step.typed)}
              title="Try it"
              sx={{
                ...bareButton,
                display: "grid",
                gridTemplateColumns: "1fr auto",
                width: "100%",
                py: 0.4,
                px: 0,
                bgcolor: "transparent",
                borderBottom: `1px solid ${ink.line}`,
                "&:hover": { bgcolor: ink.sheet },
              }}
            >
              <span>{step.change}</span>
              <span>
                <b>+{formatLoad(step.gain_n, draft.push, units)}</b>
                {Math.abs(step.mass_kg) >= 5e-5 &&
                  `, ${step.mass_kg > 0 ? "+" : "−"}${formatMass(Math.abs(step.mass_kg), units)}`}
              </span>
            </Box>
          ))}
        </>
      )}
      {draft.says
        .filter((sentence) => sentence !== draft.note)
        .map((sentence) => (
          <Typography key={sentence} sx={{ mt: 1 }}>
            {sentence}
          </Typography>
        ))}
      <Box component="dl" sx={{ display: "grid", gridTemplateColumns: "1fr auto", columnGap: 2, my: 1.5 }}>
        {draft.facts.map((fact) => (
          <Box key={fact.label} sx={{ display: "contents" }}>
            <Typography component="dt" variant="body2" sx={{ color: ink.soft }}>
              {fact.label}
              {fact.words && `, ${fact.words}`}
            </Typography>
            <Typography
              component="dd"
              sx={{ m: 0, textAlign: "right", fontFamily: condensed, fontWeight: 600 }}
            >
              {formatFact(fact.value, fact.kind, units)}
            </Typography>
          </Box>
        ))}
      </Box>
    </Box>
  );
}

function Curves({ draft }: { draft: Draft }) {
  return (
    <>
      {draft.curves.map((curve) => (
        <Box key={curve.title} sx={{ maxWidth: 370, mt: 1 }}>
          <CurveChart curve={curve} />
        </Box>
      ))}
    </>
  );
}

function Finer({
  params,
  shared,
}: {
  params: DraftKind["params"];
  shared: Omit<React.ComponentProps<typeof Controls>, "params">;
}) {
  const [open, setOpen] = useState(false);
  const wrong = params.some((param) => param.key in shared.problems);
  if (params.length === 0) return null;
  if (!open && !wrong)
    return (
      <Button onClick={() => setOpen(true)} sx={{ px: 0 }}>
        More settings: {params.map((param) => param.label.toLowerCase()).join(", ")}
      </Button>
    );
  return <Controls params={params} columns={2} {...shared} />;
}

function Lessons({ kind }: { kind: DraftKind }) {
  return (
    <Box
      sx={{ display: "flex", flexWrap: "wrap", gap: 4, borderTop: `1px solid ${ink.line}`, mt: 2, pt: 1.5 }}
    >
      {kind.lessons.map((lesson) => (
        <Box
          key={lesson.words}
          component="figure"
          sx={{
            m: 0,
            width: 540,
            maxWidth: "100%",
            display: "flex",
            flexWrap: { xs: "wrap", sm: "nowrap" },
            gap: 2,
            alignItems: "center",
          }}
        >
          <Box sx={{ width: 340, maxWidth: "100%", flexShrink: 0 }}>
            <SetupDrawing drawing={lesson.drawing} width={340} height={150} room={30} />
          </Box>
          <Typography component="figcaption">{lesson.words}</Typography>
        </Box>
      ))}
    </Box>
  );
}
