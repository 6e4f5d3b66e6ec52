/** Sign in, or make an account; beside it a drawing that says what this is about. */
import { Box, Button, TextField, Typography } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ApiError, answered, api } from "../../api/client";
import { keys } from "../../api/queries";
import { GirderMark } from "../../drawing/GirderMark";
import { Notice, sentenceOf } from "../../shared/states";
import { ink } from "../../shared/theme";
import { BridgeElevation } from "../../drawing/BridgeElevation";

export function SignInPage() {
  const [joining, setJoining] = useState(false);
  const [entry, setEntry] = useState({ name: "", email: "", password: "" });
  const client = useQueryClient();
  const enter = useMutation({
    mutationFn: () => {
      const { name, email, password } = entry;
      return joining
        ? answered(api.POST("/api/teachers", { body: { name, email, password } }))
        : answered(api.POST("/api/session", { body: { email, password } }));
    },
    onSuccess: (session) => client.setQueryData(keys.session, session),
  });
  const fields = enter.error instanceof ApiError ? enter.error.fields : {};
  const field = (name: "name" | "email" | "password", label: string, type: string, hint = "") => (
    <TextField
      fullWidth
      required
      label={label}
      type={type}
      value={entry[name]}
      error={name in fields}
      helperText={fields[name] ?? hint}
      autoComplete={
        { name: "name", email: "email", password: joining ? "new-password" : "current-password" }[name]
      }
      onChange={(event) => setEntry({ ...entry, [name]: event.target.value })}
      sx={{ mb: 2 }}
    />
  );
  return (
    <Box
      component="main"
      sx={{
        display: "grid",
        gridTemplateColumns: { md: "420px 1fr" },
        gap: 8,
        p: { xs: 3, md: 8 },
        minHeight: "100vh",
        alignContent: "center",
        alignItems: "center",
      }}
    >
      <Box
        component="form"
        onSubmit={(event) => {
          event.preventDefault();
          enter.mutate();
        }}
      >
        <Box sx={{ display: "flex", gap: 1.5, alignItems: "center", mb: 4 }}>
          <GirderMark size={34} />
          <Typography sx={{ fontWeight: 700, fontSize: "1.7rem" }}>Even Girder</Typography>
        </Box>
        <Typography variant="h2" component="h1" sx={{ mb: 2 }}>
          {joining ? "Make an account" : "Sign in"}
        </Typography>
        {joining && field("name", "What your classes call you", "text")}
        {field("email", "E-mail address", "email")}
        {field("password", "Password", "password", joining ? "At least ten characters." : "")}
        {enter.isError && Object.keys(fields).length === 0 && (
          <Notice kind="problem">{sentenceOf(enter.error)}</Notice>
        )}
        <Button type="submit" variant="contained" size="large" disabled={enter.isPending}>
          {joining ? "Make the account" : "Sign in"}
        </Button>
        <Button
          sx={{ ml: 2 }}
          onClick={() => {
            enter.reset();
            setJoining(!joining);
          }}
        >
          {joining ? "I have an account" : "Make an account"}
        </Button>
      </Box>
      <Box sx={{ display: { xs: "none", md: "block" }, alignSelf: "center" }}>
        <BridgeElevation
          gapM={0.36}
          overlapLeftM={0.034}
          overlapRightM={0.034}
          stack={[
            {
              key: "platform",
              shape: "platform",
              count: 1,
              diameterM: 0.09,
              thicknessM: 0.006,
              state: "held",
            },
            { key: "nut", shape: "nut", count: 18, diameterM: 0.02, thicknessM: 0.01, state: "held" },
            { key: "nut", shape: "nut", count: 3, diameterM: 0.02, thicknessM: 0.01, state: "waiting" },
          ]}
          gapLabel="the gap"
        />
        <Typography variant="h1" component="p" sx={{ mt: 3, maxWidth: 640 }}>
          Who really won?
        </Typography>
        <Typography sx={{ color: ink.soft, maxWidth: 560, mt: 1 }}>
          Even Girder keeps count at the test bench, and says who won today and whether they would win again.
        </Typography>
      </Box>
    </Box>
  );
}
