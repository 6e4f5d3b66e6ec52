/** A team while it builds: what it tries, its draft, practice pieces used, and whether its joints are dry. */
import { Box, Button, IconButton, TextField, Typography } from "@mui/material";
import { useState } from "react";
import { Link as RouterLink } from "react-router";
import { answered, api } from "../../api/client";
import type { Design } from "../../api/types";
import { sentenceOf } from "../../shared/states";
import { ink } from "../../shared/theme";
import { TeamMark } from "../../drawing/TeamMark";
import { useDesignWrite, useRunState } from "../run";
import { useSince } from "../../shared/clock";
import { clockText } from "../../shared/clockText";

export function TeamLine({ design }: { design: Design }) {
  const { state, family } = useRunState();
  const [note, setNote] = useState(design.note);
  const path = { params: { path: { id: design.id } } };
  const write = useDesignWrite((text: string) =>
    answered(api.PATCH("/api/designs/{id}", { ...path, body: { note: text } })),
  );
  return (
    <Box
      sx={{
        display: "grid",
        gridTemplateColumns: { xs: "40px 1fr", lg: "36px 130px minmax(180px, 1fr) auto auto" },
        columnGap: 1.5,
        rowGap: 0.5,
        alignItems: "center",
        py: 0.75,
        borderBottom: `1px solid ${ink.line}`,
      }}
    >
      <TeamMark team={design.team} size={28} />
      <Typography sx={{ fontWeight: 600, fontSize: "1.15rem", overflowWrap: "anywhere" }}>
        {design.team.name}
        {design.version > 1 && `, version ${design.version}`}
        {design.away && !design.tested && (
          <Typography component="span" variant="body2" sx={{ display: "block", color: ink.watch }}>
            {design.away}
          </Typography>
        )}
      </Typography>
      <TextField
        label={`What ${design.team.name} tries`}
        value={note}
        error={write.isError}
        helperText={write.isError ? sentenceOf(write.error) : write.isPending ? "saving" : ""}
        onChange={(e) => setNote(e.target.value)}
        onBlur={() => {
          if (note !== design.note) write.mutate(note);
        }}
        sx={{ gridColumn: { xs: "1 / -1", lg: "auto" } }}
      />
      <Box sx={{ display: "flex", gap: 1.5, alignItems: "center" }}>
        {state.practice_pieces > 0 && <Practice design={design} of={state.practice_pieces} />}
        {state.run.drying_minutes > 0 && <Drying design={design} />}
      </Box>
      {family.drafted && (
        <Button
          component={RouterLink}
          to={`/runs/${state.run.id}/drafting/${design.id}`}
          aria-label={`Draft of ${design.team.name}`}
        >
          {design.draft
            ? `Draft: ${design.veiled || !design.model_goes_first ? "kept" : design.model_goes_first.toLowerCase()}`
            : family.loaded
              ? "Draft it"
              : "Draft"}
        </Button>
      )}
    </Box>
  );
}

function Practice({ design, of }: { design: Design; of: number }) {
  const set = useDesignWrite((used: number) =>
    answered(api.PUT("/api/designs/{id}/practice", { params: { path: { id: design.id } }, body: { used } })),
  );
  const used = design.practice_used;
  return (
    <Box sx={{ display: "flex", alignItems: "center", whiteSpace: "nowrap" }}>
      <IconButton
        size="small"
        aria-label={`One practice piece fewer for ${design.team.name}`}
        disabled={used === 0}
        onClick={() => set.mutate(used - 1)}
      >
        −
      </IconButton>
      <Typography sx={{ color: used > of ? ink.oxide : ink.ink, fontWeight: used > of ? 700 : 400 }}>
        {used} of {of} practice
      </Typography>
      <IconButton
        size="small"
        aria-label={`One practice piece more for ${design.team.name}`}
        onClick={() => set.mutate(used + 1)}
      >
        +
      </IconButton>
    </Box>
  );
}

function Drying({ design }: { design: Design }) {
  const set = useDesignWrite((glued: boolean) =>
    answered(api.PUT("/api/designs/{id}/glue", { params: { path: { id: design.id } }, body: { glued } })),
  );
  const left = design.drying_left_s - useSince(design, design.drying_left_s > 0);
  if (!design.glued)
    return (
      <Button size="small" variant="outlined" onClick={() => set.mutate(true)}>
        Glued now
      </Button>
    );
  return (
    <Typography sx={{ whiteSpace: "nowrap", color: left > 0 ? ink.watch : ink.held, fontWeight: 600 }}>
      {left > 0 ? `≈ dry in ${clockText(left)}` : "✓ dry"}
      <Button
        size="small"
        onClick={() => set.mutate(false)}
        aria-label={`Take the drying clock of ${design.team.name} away`}
      >
        ✕
      </Button>
    </Typography>
  );
}
