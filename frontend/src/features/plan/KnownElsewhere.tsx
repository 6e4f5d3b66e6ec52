/** What other classes held under the terms of a recipe that was taken over. */
import { Typography } from "@mui/material";
import type { Recipe } from "../../api/types";
import { plural } from "../../shared/format";
import { ink } from "../../shared/theme";

export function KnownElsewhere({ known }: { known: NonNullable<Recipe["elsewhere"]> }) {
  const rests = `${known.designs} ${plural("design", known.designs)} in ${known.runs} ${plural("run", known.runs)}`;
  return (
    <Typography sx={{ borderLeft: `4px solid ${known.counts ? ink.held : ink.line}`, pl: 1.5, my: 1 }}>
      {known.counts
        ? `Known from ${rests} of other classes. ${known.says} The first tests are planned by it, and your own runs count besides.`
        : `What is known of other classes (${rests}) is of another set-up or other materials, so it says nothing here. It counts again when both are as they were.`}
    </Typography>
  );
}
