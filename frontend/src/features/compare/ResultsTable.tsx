/** Results that were written elsewhere: choose or paste a table, say what its columns mean, see what it becomes, take it in. */
import { Box, Button, MenuItem, TextField, Typography } from "@mui/material";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api } from "../../api/client";
import { followed } from "../../api/longWork";
import type { TableSeen } from "../../api/types";
import { PlainTable } from "../../shared/Figures";
import { FileButton } from "../../shared/FileButton";
import { Progress, useLongWork } from "../../shared/LongWork";
import { Notice, sentenceOf } from "../../shared/states";
import { ink } from "../../shared/theme";
import { useRunState } from "../run";
import { plural } from "../../shared/format";

async function base64(blob: Blob): Promise<string> {
  const bytes = new Uint8Array(await blob.arrayBuffer());
  let text = "";
  for (let i = 0; i < bytes.length; i += 8192) text += String.fromCharCode(...bytes.subarray(i, i + 8192));
  return btoa(text);
}

interface Asked {
  data: string;
  meaning: string[] | null;
  keep: boolean;
  /** Of a workbook; the server picks one when none is named. */
  sheet: string;
}

/** The columns of the table with what each means, and its first rows. */
function Columns({
  seen,
  busy,
  onMeaning,
}: {
  seen: TableSeen;
  busy: boolean;
  onMeaning: (column: number, meaning: string) => void;
}) {
  const choices = seen.columns.map((column, i) => (
    <TextField
      key={column.name}
      select
      slotProps={{ htmlInput: { "aria-label": `What “${column.name}” means` } }}
      value={column.meaning}
      disabled={busy}
      onChange={(event) => onMeaning(i, event.target.value)}
      sx={{ minWidth: 150 }}
    >
      <MenuItem value="">
        <em>left out</em>
      </MenuItem>
      {seen.targets.map((target) => (
        <MenuItem key={target.key} value={target.key}>
          {target.label}
        </MenuItem>
      ))}
    </TextField>
  ));
  const examples = (seen.columns[0]?.examples ?? []).map((_, row) =>
    seen.columns.map((column) => <span style={{ color: ink.soft }}>{column.examples[row]}</span>),
  );
  return (
    <Box sx={{ overflowX: "auto" }}>
      <PlainTable head={seen.columns.map((column) => column.name)} rows={[choices, ...examples]} />
    </Box>
  );
}

export function ResultsTable() {
  const { state } = useRunState();
  const client = useQueryClient();
  const [data, setData] = useState("");
  const [pasted, setPasted] = useState("");
  const look = useLongWork(
    (body: Asked, onStep, signal) => {
      const params = { path: { id: state.run.id }, query: { follow: "1" as const } };
      const asked = { params, body, signal, parseAs: "stream" as const };
      return followed<TableSeen>(api.POST("/api/runs/{id}/results-table", asked), onStep);
    },
    async (answer) => {
      if (answer.kept) await client.invalidateQueries();
    },
  );
  const begin = async (blob: Blob) => {
    const read = await base64(blob);
    setData(read);
    look.mutate({ data: read, meaning: null, keep: false, sheet: "" });
  };
  const seen = look.data;
  const meaning = seen?.columns.map((column) => column.meaning) ?? [];
  const what = seen
    ? [
        seen.trials > 0 && `${seen.trials} ${plural("trial", seen.trials)}`,
        seen.readings > 0 && `${seen.readings} ${plural("reading", seen.readings)}`,
      ]
        .filter(Boolean)
        .join(" and ")
    : "";
  return (
    <Box component="section" aria-label="Results from a table" sx={{ mt: 3 }}>
      <Typography variant="h2">Results written elsewhere</Typography>
      <Typography>
        A table with a row for each trial, or a team’s trials side by side: the team, how many of each object
        it held or the mass of it all, how it ended; readings where there are any. CSV, XLSX, or pasted. All
        of it is taken in, or nothing.
      </Typography>
      <Box sx={{ display: "flex", gap: 2, alignItems: "start", my: 1 }}>
        <FileButton
          accept=".csv,.txt,.tsv,.xlsx"
          disabled={look.isPending}
          onFile={(file) => void begin(file)}
          look={{ variant: "outlined" }}
        >
          Choose the file
        </FileButton>
        <TextField
          label="Or paste the table"
          multiline
          maxRows={5}
          value={pasted}
          onChange={(event) => setPasted(event.target.value)}
          sx={{ flex: 1 }}
        />
        <Button
          disabled={look.isPending || pasted.trim() === ""}
          onClick={() => void begin(new Blob([pasted], { type: "text/csv" }))}
        >
          Look at it
        </Button>
      </Box>
      <Progress work={look} what="Reading the table" />
      {look.isError && <Notice kind="problem">{sentenceOf(look.error)}</Notice>}
      {seen && !seen.kept && (
        <>
          {seen.sheets.length > 1 && (
            <TextField
              select
              label="Sheet"
              value={seen.sheet}
              disabled={look.isPending}
              onChange={(event) =>
                look.mutate({ data, meaning: null, keep: false, sheet: event.target.value })
              }
              sx={{ minWidth: 200, my: 1 }}
            >
              {seen.sheets.map((name) => (
                <MenuItem key={name} value={name}>
                  {name}
                </MenuItem>
              ))}
            </TextField>
          )}
          <Columns
            seen={seen}
            busy={look.isPending}
            onMeaning={(i, key) =>
              look.mutate({
                data,
                meaning: meaning.map((old, k) => (k === i ? key : old)),
                keep: false,
                sheet: seen.sheet,
              })
            }
          />
          {seen.problem && <Notice kind="caution">{seen.problem}</Notice>}
          {seen.errors.map((error) => (
            <Typography key={`${error.line} ${error.column} ${error.sentence}`} sx={{ color: ink.oxide }}>
              <b>
                Line {error.line}
                {error.column && `, ${error.column}`}:
              </b>{" "}
              {error.sentence}
            </Typography>
          ))}
          <Button
            variant="contained"
            sx={{ mt: 1 }}
            disabled={look.isPending || seen.problem !== "" || seen.errors.length > 0 || what === ""}
            onClick={() => look.mutate({ data, meaning, keep: true, sheet: seen.sheet })}
          >
            {seen.errors.length > 0
              ? `${seen.errors.length} of ${seen.rows} rows to put right first`
              : `Take in ${what || "nothing"}`}
          </Button>
        </>
      )}
      {seen?.kept && <Notice kind="done">{what} taken in.</Notice>}
    </Box>
  );
}
