/** A team's drafting table on its own tablet: the team says what it thinks, then the model does. */
import { Box, Button, Typography } from "@mui/material";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link as RouterLink } from "react-router";
import { answered, api } from "../../api/client";
import { draftAtTablet, keys } from "../../api/queries";
import type { DraftForTeam, TeamPage } from "../../api/types";
import { Empty, Failed, Loading, Notice, sentenceOf } from "../../shared/states";
import { ink } from "../../shared/theme";
import { begun, DraftTable, isKept, KindButtons } from "../drafting";
import { placeOf } from "./page";
import { WhatItWillHold } from "./Said";
import { TeamFrame } from "./TeamFrame";

function Table({ page, table }: { page: TeamPage; table: DraftForTeam }) {
  const client = useQueryClient();
  const { kinds, kept } = table;
  const [kindKey, setKindKey] = useState(kept?.kind ?? kinds[0]?.key ?? "");
  const kind = kinds.find((offered) => offered.key === kindKey);
  const fresh = (key: string) => begun(kept, key, kinds.find((offered) => offered.key === key)?.start ?? {});
  const [state, setState] = useState(() => fresh(kindKey));
  const keep = useMutation({
    mutationFn: () =>
      answered(
        api.PUT("/api/team/draft", {
          body: { kind: kindKey, typed: { ...state.typed }, moves: { ...state.moves } },
        }),
      ),
    onSuccess: (answer) => client.setQueryData(keys.teamDraft, answer),
  });
  if (!kind) return <Empty title="There is nothing to draft for this kind of challenge." />;
  const same = isKept(kept, kindKey, state);
  // Said here or on another tablet of the team: from then on the model speaks.
  const veiled = table.veiled && page.prediction === null;
  return (
    <>
      <Box sx={{ display: "flex", gap: 1, mt: 1, flexWrap: "wrap" }}>
        <KindButtons
          kinds={kinds}
          chosen={kindKey}
          onChoose={(key) => {
            setKindKey(key);
            setState(fresh(key));
          }}
        />
      </Box>
      <DraftTable
        kind={kind}
        state={state}
        stocks={table.stocks}
        onChange={setState}
        source={draftAtTablet(veiled)}
        veil={
          veiled ? (
            <Box sx={{ border: `3px solid ${ink.ink}`, px: 3, pb: 1, bgcolor: ink.sheet }}>
              <WhatItWillHold page={page} place={placeOf(page)} />
              <Typography>The model answers after you.</Typography>
            </Box>
          ) : undefined
        }
        actions={
          <Box sx={{ textAlign: "right" }}>
            <Button
              variant="contained"
              disabled={same || keep.isPending || table.begun}
              onClick={() => keep.mutate()}
            >
              {same ? "Kept" : "Keep it"}
            </Button>
            {table.begun && (
              <Typography variant="body2" sx={{ color: ink.soft }}>
                Your test has begun; a draft comes before it.
              </Typography>
            )}
            {keep.isError && <Notice kind="problem">{sentenceOf(keep.error)}</Notice>}
          </Box>
        }
      />
    </>
  );
}

function Fetched({ page }: { page: TeamPage }) {
  const table = useQuery({ queryKey: keys.teamDraft, queryFn: () => answered(api.GET("/api/team/draft")) });
  if (table.isPending) return <Loading what="your drafting table" />;
  if (!table.data) return <Failed error={table.error} retry={() => void table.refetch()} />;
  return <Table key={placeOf(page)} page={page} table={table.data} />;
}

export default function TeamDraftPage() {
  return (
    <TeamFrame>
      {({ page }) => (
        <>
          <Button component={RouterLink} to="/team" sx={{ px: 0, mt: 1 }}>
            Back to our page
          </Button>
          {page.can_draft ? (
            <Fetched page={page} />
          ) : (
            <Empty title="Your teacher has not opened the drafting table to teams." />
          )}
        </>
      )}
    </TeamFrame>
  );
}
