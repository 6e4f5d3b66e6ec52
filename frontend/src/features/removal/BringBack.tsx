/** What was deleted lately, each with the way back. */
import { Box, Button, Typography } from "@mui/material";
import { useRemoved } from "../../api/queries";
import type { Removed } from "../../api/types";
import { formatMoment } from "../../shared/format";
import { Notice, sentenceOf } from "../../shared/states";
import { ink } from "../../shared/theme";
import { useRemoval, type Kind } from "./removal";

const WORD: Record<Kind, string> = {
  class: "Class",
  team: "Team",
  recipe: "Recipe",
  run: "Run",
  design: "Design",
};

function Row({ removed }: { removed: Removed }) {
  const back = useRemoval(removed.what, removed.id);
  return (
    <Box sx={{ py: 0.75, borderBottom: `1px solid ${ink.line}` }}>
      <Box sx={{ display: "flex", gap: 1, alignItems: "baseline" }}>
        <Typography sx={{ flex: 1, overflowWrap: "anywhere" }}>
          {WORD[removed.what]} <b>{removed.name}</b>
          {removed.of && `, ${removed.of}`}
        </Typography>
        <Button
          size="small"
          variant="outlined"
          aria-label={`Bring back ${removed.name}`}
          disabled={back.isPending}
          onClick={() => back.mutate(false)}
        >
          Bring back
        </Button>
      </Box>
      <Typography variant="body2" sx={{ color: ink.soft }}>
        deleted {formatMoment(removed.removed_at)}, kept till {formatMoment(removed.until)}
      </Typography>
      {back.isError && <Notice kind="problem">{sentenceOf(back.error)}</Notice>}
    </Box>
  );
}

export function BringBack() {
  const { data } = useRemoved();
  if (!data || data.length === 0) return null;
  return (
    <Box component="section" aria-labelledby="deleted" sx={{ mt: 4 }}>
      <Typography variant="h2" id="deleted">
        Deleted lately
      </Typography>
      {data.map((removed) => (
        <Row key={`${removed.what} ${removed.id}`} removed={removed} />
      ))}
    </Box>
  );
}
