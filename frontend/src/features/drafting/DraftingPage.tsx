/** The drafting table without a run: any kind of draft, to try things out. */
import { Box, Button, Typography } from "@mui/material";
import { useState } from "react";
import { Link as RouterLink, NavLink, useParams } from "react-router";
import { FREE_DRAFT, useDraftKinds, useStocks } from "../../api/queries";
import type { DraftKind, Stock } from "../../api/types";
import { Failed, fetchAgain, Loading } from "../../shared/states";
import { ink } from "../../shared/theme";
import { DraftTable } from "./DraftTable";
import type { DraftState } from "./draftState";

export default function DraftingPage() {
  const kinds = useDraftKinds();
  const stocks = useStocks();
  const asked = useParams()["kind"];
  if (kinds.isPending || stocks.isPending) return <Loading what="the drafting table" />;
  if (kinds.isError || stocks.isError)
    return <Failed error={kinds.error ?? stocks.error} retry={fetchAgain(kinds, stocks)} />;
  const kind = kinds.data.find((listed) => listed.key === asked) ?? kinds.data[0];
  if (!kind) return null;
  return (
    <>
      <Box
        component="nav"
        aria-label="Kinds of draft"
        sx={{ display: "flex", flexWrap: "wrap", gap: 0.5, alignItems: "center" }}
      >
        {kinds.data.map((listed) => (
          <NavLink
            key={listed.key}
            to={`/drafting/${listed.key}`}
            style={{
              padding: "3px 11px",
              textDecoration: "none",
              color: listed.key === kind.key ? "#ffffff" : ink.ink,
              background: listed.key === kind.key ? ink.ink : "transparent",
              fontWeight: listed.key === kind.key ? 700 : 400,
            }}
          >
            {listed.name}
          </NavLink>
        ))}
        <Button component={RouterLink} to="/stocks" sx={{ ml: "auto" }}>
          Materials
        </Button>
      </Box>
      <Typography variant="body2" sx={{ color: ink.soft }}>
        {kind.about}
      </Typography>
      <FreeDraft key={kind.key} kind={kind} stocks={stocks.data} />
    </>
  );
}

function FreeDraft({ kind, stocks }: { kind: DraftKind; stocks: readonly Stock[] }) {
  const [state, setState] = useState<DraftState>({ typed: kind.start, moves: {} });
  return <DraftTable kind={kind} state={state} stocks={stocks} source={FREE_DRAFT} onChange={setState} />;
}
