/** Sign in, or make an account; beside it a drawing that says what this is about. */
import { Box, Button, TextField, Typography } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useMatch, useSearchParams } from "react-router";
import { ApiError, answered, api } from "../../api/client";
import { keys } from "../../api/queries";
import { GirderMark } from "../../drawing/GirderMark";
import { Notice, sentenceOf } from "../../shared/states";
import type { Session } from "../../api/types";
import { ink } from "../../shared/theme";
import { BridgeElevation } from "../../drawing/BridgeElevation";
import { SchoolSignOns } from "./SchoolSignOns";

type Way = "in" | "join" | "reset";
type Field = "name" | "email" | "password" | "code";

const WAYS: Record<Way, { title: string; does: string; password: string; hint: string; fills: string }> = {
  in: { title: "Sign in", does: "Sign in", password: "Password", hint: "", fills: "current-password" },
  join: {
    title: "Make an account",
    does: "Make the account",
    password: "Password",
    hint: "At least twelve characters.",
    fills: "new-password",
  },
  reset: {
    title: "A new password",
    does: "Set it and sign in",
    password: "New password",
    hint: "At least twelve characters.",
    fills: "new-password",
  },
};

async function entered(way: Way, entry: Record<Field, string>): Promise<Session> {
  const { name, email, password, code } = entry;
  if (way === "reset")
    return answered(api.POST("/api/session/reset", { body: { email, code, new: password } }));
  if (way === "join") {
    await answered(api.POST("/api/teachers", { body: { name, email, password, code } }));
    try {
      return await answered(api.POST("/api/session", { body: { email, password } }));
    } catch (error) {
      // Whether there was an account is not told; whoever has one knows its password.
      if (error instanceof ApiError && error.code === "wrong_sign_in")
        throw new ApiError(error.status, {
          code: error.code,
          sentence: "If you have an account with this address already, sign in with its own password.",
        });
      throw error;
    }
  }
  return answered(api.POST("/api/session", { body: { email, password } }));
}

interface Props {
  signUp: Session["sign_up"];
  signOns: Session["sign_ons"];
}

export function SignInPage({ signUp, signOns }: Props) {
  // The address that an invitation is given with says its code.
  const into = useMatch("/colleague/:code")?.params.code;
  const code = useSearchParams()[0].get("code") ?? into ?? "";
  const [way, setWay] = useState<Way>(code && !into ? "join" : "in");
  const [entry, setEntry] = useState<Record<Field, string>>({ name: "", email: "", password: "", code });
  const client = useQueryClient();
  const enter = useMutation({
    mutationFn: () => entered(way, entry),
    onSuccess: (session) => client.setQueryData(keys.session, session),
  });
  const words = WAYS[way];
  // What the server calls the new password.
  const { new: refusedNew, ...others } = enter.error instanceof ApiError ? enter.error.fields : {};
  const fields: Record<string, string> = refusedNew ? { ...others, password: refusedNew } : others;
  const field = (name: Field, label: string, type: string, fills: string, hint = "", required = true) => (
    <TextField
      fullWidth
      required={required}
      label={label}
      type={type}
      value={entry[name]}
      error={name in fields}
      helperText={fields[name] ?? hint}
      autoComplete={fills}
      onChange={(event) => setEntry({ ...entry, [name]: event.target.value })}
      sx={{ mb: 2 }}
    />
  );
  const go = (to: Way, label: string) => (
    <Button
      sx={{ mr: 1, px: 1 }}
      onClick={() => {
        enter.reset();
        setWay(to);
      }}
    >
      {label}
    </Button>
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
          {words.title}
        </Typography>
        {into !== undefined && (
          <Typography sx={{ mb: 2 }}>
            A colleague invites you into a class. Sign in, or make an account: this invitation is good for it.
          </Typography>
        )}
        {way === "reset" && (
          <Typography sx={{ mb: 2, color: ink.soft }}>
            Ask who administers your school for a code, or who runs this server: they get one with “girder
            reset-password” and your address. It works once, within an hour.
          </Typography>
        )}
        {way === "join" && field("name", "What your classes call you", "text", "name")}
        {field("email", "E-mail address", "email", "email")}
        {way === "reset" && field("code", "Code", "text", "one-time-code")}
        {way === "join" &&
          field(
            "code",
            "Invitation code",
            "text",
            "one-time-code",
            signUp === "open" ? "If your school gave you one; else leave it empty." : "",
            signUp !== "open",
          )}
        {field("password", words.password, "password", words.fills, words.hint)}
        {enter.isError && Object.keys(fields).length === 0 && (
          <Notice kind="problem">{sentenceOf(enter.error)}</Notice>
        )}
        <Button type="submit" variant="contained" size="large" disabled={enter.isPending}>
          {words.does}
        </Button>
        {way === "in" && <SchoolSignOns ways={signOns} />}
        <Box sx={{ mt: 2, ml: -1 }}>
          {way !== "in" && go("in", "I have an account")}
          {way !== "join" && go("join", signUp === "closed" ? "I have an invitation" : "Make an account")}
          {way !== "reset" && go("reset", "Password forgotten")}
        </Box>
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
