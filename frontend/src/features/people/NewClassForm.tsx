import { Box, Button, TextField } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { answered, api } from "../../api/client";
import { keys } from "../../api/queries";
import { sentenceOf } from "../../shared/states";

export function NewClassForm() {
  const [name, setName] = useState("");
  const client = useQueryClient();
  const go = useNavigate();
  const add = useMutation({
    mutationFn: () => answered(api.POST("/api/classes", { body: { name } })),
    onSuccess: async (added) => {
      await client.invalidateQueries({ queryKey: keys.classes });
      await go(`/classes/${added.id}`);
    },
  });
  return (
    <Box
      component="form"
      sx={{ display: "flex", gap: 1, mt: 1.5, alignItems: "start" }}
      onSubmit={(event) => {
        event.preventDefault();
        add.mutate();
      }}
    >
      <TextField
        label="New class"
        value={name}
        error={add.isError}
        helperText={add.isError ? sentenceOf(add.error) : ""}
        onChange={(event) => setName(event.target.value)}
      />
      <Button type="submit" variant="outlined" disabled={name.trim() === "" || add.isPending}>
        Add
      </Button>
    </Box>
  );
}
