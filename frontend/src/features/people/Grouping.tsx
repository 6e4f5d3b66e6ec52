/** Teams from a class list, or from a number of students: by chance, or mixed by last time's result; dealt again at a
 * touch. */
import { Box, Button, MenuItem, TextField, Typography } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ApiError, answered, api } from "../../api/client";
import { keys } from "../../api/queries";
import type { SchoolClass } from "../../api/types";
import { FileButton } from "../../shared/FileButton";
import { NumberField } from "../../shared/NumberField";
import { Notice, sentenceOf } from "../../shared/states";
import { ink } from "../../shared/theme";

export function Grouping({ schoolClass }: { schoolClass: SchoolClass }) {
  const client = useQueryClient();
  const [text, setText] = useState("");
  const [students, setStudents] = useState<number | null>(null);
  const [size, setSize] = useState<number | null>(3);
  const [how, setHow] = useState("chance");
  const grouped = schoolClass.teams.some((team) => team.members.length > 0);
  const form = useMutation({
    mutationFn: (again: boolean) =>
      answered(
        api.POST("/api/classes/{id}/groups", {
          params: { path: { id: schoolClass.id } },
          body: {
            text: again ? "" : text,
            students: again ? 0 : (students ?? 0),
            size: size ?? 0,
            mixed: how === "mixed",
          },
        }),
      ),
    onSuccess: async () => {
      setText("");
      await client.invalidateQueries({ queryKey: keys.classes });
    },
  });
  const fields = form.error instanceof ApiError ? form.error.fields : {};
  const changed = (change: () => void) => {
    form.reset();
    change();
  };
  return (
    <Box
      component="form"
      aria-label="Teams from the class list"
      onSubmit={(event) => {
        event.preventDefault();
        form.mutate(false);
      }}
    >
      <Typography variant="h2">Teams from the class list</Typography>
      <Typography sx={{ color: ink.soft, mb: 1.5 }}>
        First names are enough, and only those are kept. They are optional: a number of students will do.
      </Typography>
      <Box sx={{ display: "flex", gap: 1, alignItems: "start", flexWrap: "wrap" }}>
        <TextField
          label="Class list"
          multiline
          minRows={3}
          maxRows={10}
          value={text}
          error={"text" in fields}
          helperText={fields["text"] ?? "One name on each line, or a pasted table."}
          onChange={(event) => changed(() => setText(event.target.value))}
          sx={{ flex: "1 1 260px" }}
        />
        <NumberField
          label="or so many students"
          value={students}
          error={"students" in fields}
          helperText={fields["students"]}
          onNumber={(value) => changed(() => setStudents(value))}
          sx={{ width: 170 }}
        />
      </Box>
      <Box sx={{ display: "flex", gap: 1, alignItems: "start", flexWrap: "wrap", mt: 1.5 }}>
        <NumberField
          label="In a team"
          value={size}
          error={"size" in fields}
          helperText={fields["size"]}
          onNumber={(value) => changed(() => setSize(value))}
          sx={{ width: 100 }}
        />
        <TextField
          select
          label="Who with whom"
          value={how}
          onChange={(event) => setHow(event.target.value)}
          sx={{ width: 220 }}
        >
          <MenuItem value="chance">by chance</MenuItem>
          <MenuItem value="mixed">mixed by last time’s result</MenuItem>
        </TextField>
        <Button
          type="submit"
          variant="contained"
          disabled={form.isPending || (text.trim() === "" && !students)}
        >
          Form the teams
        </Button>
        {grouped && (
          <Button variant="outlined" disabled={form.isPending} onClick={() => form.mutate(true)}>
            Shuffle again
          </Button>
        )}
        <FileButton accept=".csv,.txt,text/csv" onFile={(file) => void file.text().then(setText)}>
          List from a CSV file
        </FileButton>
        {grouped && <Button onClick={() => window.print()}>Print the teams</Button>}
      </Box>
      {form.isError && Object.keys(fields).length === 0 && (
        <Notice kind="problem">{sentenceOf(form.error)}</Notice>
      )}
    </Box>
  );
}
