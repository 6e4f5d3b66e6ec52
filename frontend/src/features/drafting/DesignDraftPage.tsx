/** Drafting for a team: the team says what it thinks, then the model does; the draft goes with the design. */
import { Box, Button, MenuItem, TextField, Typography } from "@mui/material";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate, useParams } from "react-router";
import { answered, api } from "../../api/client";
import { draftOfDesign, keys, useDraftKinds, useDraftStart, useStocks } from "../../api/queries";
import type { Design, DraftKind, Stock } from "../../api/types";
import { assumeUnit } from "../../shared/assumeUnit";
import { Empty, Failed, fetchAgain, Loading, Notice, sentenceOf } from "../../shared/states";
import { ink } from "../../shared/theme";
import { useUnits } from "../../shared/units";
import { TeamMark } from "../../drawing/TeamMark";
import { useDesignWrite, useRunState } from "../run";
import { DraftTable } from "./DraftTable";
import { begun, isKept } from "./draftState";
import { KindButtons } from "./KindButtons";

export default function DesignDraftPage() {
  const { state } = useRunState();
  const asked = Number(useParams()["designId"]);
  const design = state.designs.find((design) => design.id === asked) ?? state.designs[0];
  if (!design) return <Empty title="No team in this run." />;
  return <Fetched key={design.id} design={design} />;
}

function Fetched({ design }: { design: Design }) {
  const kinds = useDraftKinds();
  const stocks = useStocks();
  const start = useDraftStart(design.id);
  if (kinds.isPending || stocks.isPending || start.isPending) return <Loading what="the drafting table" />;
  if (kinds.isError || stocks.isError || start.isError)
    return (
      <Failed error={kinds.error ?? stocks.error ?? start.error} retry={fetchAgain(kinds, stocks, start)} />
    );
  const offered = start.data.kinds.flatMap((key) => kinds.data.filter((kind) => kind.key === key));
  return <DesignDraft design={design} kinds={offered} stocks={stocks.data} starts={start.data.start} />;
}

interface Props {
  design: Design;
  kinds: readonly DraftKind[];
  stocks: readonly Stock[];
  starts: Readonly<Record<string, Record<string, string>>>;
}

function DesignDraft({ design, kinds, stocks, starts }: Props) {
  const { state: run } = useRunState();
  const go = useNavigate();
  const client = useQueryClient();
  const kept = design.draft;
  const [kindKey, setKindKey] = useState(kept?.kind ?? kinds[0]?.key ?? "");
  const fresh = (key: string) => begun(kept, key, starts[key] ?? {});
  const [state, setState] = useState(() => fresh(kindKey));
  const keep = useDesignWrite(
    () =>
      answered(
        api.PUT("/api/designs/{id}/draft", {
          params: { path: { id: design.id } },
          body: { kind: kindKey, typed: { ...state.typed }, moves: { ...state.moves } },
        }),
      ),
    () => void client.invalidateQueries({ queryKey: keys.experience(run.run.id) }),
  );
  const kind = kinds.find((kind) => kind.key === kindKey);
  if (!kind) return <Empty title="There is nothing to draft for this kind of challenge." />;
  const same = isKept(kept, kindKey, state);
  return (
    <>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1.5, alignItems: "center", pt: 1.5 }}>
        <TeamMark team={design.team} size={28} />
        <TextField
          select
          value={design.id}
          onChange={(event) => void go(`/runs/${run.run.id}/drafting/${event.target.value}`)}
          slotProps={{
            select: { SelectDisplayProps: { "aria-label": "Team", style: { padding: "6px 12px" } } },
          }}
          sx={{ width: 210 }}
        >
          {run.designs.map((design) => (
            <MenuItem key={design.id} value={design.id}>
              {design.team.name}
              {design.version > 1 && `, version ${design.version}`}
            </MenuItem>
          ))}
        </TextField>
        <KindButtons
          kinds={kinds}
          chosen={kindKey}
          onChoose={(key) => {
            setKindKey(key);
            setState(fresh(key));
          }}
        />
        <Said design={design} />
      </Box>
      <DraftTable
        kind={kind}
        state={state}
        stocks={stocks}
        onChange={setState}
        source={draftOfDesign(design.id, run.run.id, design.veiled)}
        veil={design.veiled ? <SayFirst design={design} /> : undefined}
        actions={
          <Box sx={{ textAlign: "right" }}>
            <Button
              variant="contained"
              disabled={same || keep.isPending || design.trials.length > 0}
              onClick={() => keep.mutate(undefined)}
            >
              {same ? "Kept" : `Keep for ${design.team.name}`}
            </Button>
            {design.trials.length > 0 && (
              <Typography variant="body2" sx={{ color: ink.soft }}>
                Tested already; a draft comes before the test.
              </Typography>
            )}
            {keep.isError && <Notice kind="problem">{sentenceOf(keep.error)}</Notice>}
          </Box>
        }
      />
    </>
  );
}

/** What the team said, and whether it said so before it saw the model. */
function Said({ design }: { design: Design }) {
  if (!design.prediction) return null;
  return (
    <Typography sx={{ ml: "auto" }}>
      {design.team.name} says <b>{design.prediction.words}</b>
      {design.said_first ? ", before seeing the model." : ", after seeing the model."}
    </Typography>
  );
}

/** Before the model speaks the team does. */
function SayFirst({ design }: { design: Design }) {
  const units = useUnits();
  const [text, setText] = useState("");
  const show = useDesignWrite(() =>
    answered(api.POST("/api/designs/{id}/show-model", { params: { path: { id: design.id } } })),
  );
  const say = useDesignWrite(() =>
    answered(
      api.POST("/api/designs/{id}/prediction", {
        params: { path: { id: design.id } },
        body: { text: assumeUnit(text, "mass", units) },
      }),
    ),
  );
  return (
    <Box sx={{ border: `3px solid ${ink.ink}`, p: 3, bgcolor: ink.sheet }}>
      <Typography variant="h2">What do you think, {design.team.name}?</Typography>
      <Typography sx={{ mb: 2 }}>
        Look at the drawing, bend a sheet in your hands. Then say what it will hold. The model answers after
        you.
      </Typography>
      <Box
        component="form"
        sx={{ display: "flex", gap: 1, alignItems: "start" }}
        onSubmit={(event) => {
          event.preventDefault();
          say.mutate(undefined);
        }}
      >
        <TextField
          label="It will hold"
          placeholder="850 g"
          value={text}
          error={say.isError}
          helperText={
            say.isError ? sentenceOf(say.error) : "A mass, so many load objects, or more than another team."
          }
          onChange={(event) => setText(event.target.value)}
        />
        <Button type="submit" variant="contained" disabled={text.trim() === "" || say.isPending}>
          Say it
        </Button>
      </Box>
      <Button onClick={() => show.mutate(undefined)} sx={{ px: 0, mt: 2 }}>
        Show the model without saying; that is noted
      </Button>
      {show.isError && <Notice kind="problem">{sentenceOf(show.error)}</Notice>}
    </Box>
  );
}
