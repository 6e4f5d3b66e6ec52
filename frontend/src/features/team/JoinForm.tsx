/** Come in by the lesson's code: what a tablet shows before it is in a lesson, and after it was put out. */
import { Box, Button, TextField, Typography } from "@mui/material";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { ApiError, answered, api } from "../../api/client";
import { GirderMark } from "../../drawing/GirderMark";
import { Notice, sentenceOf } from "../../shared/states";
import { condensed, ink } from "../../shared/theme";
import { useTitle } from "../../shared/title";
import { useShow } from "./page";

export function JoinForm({ given, why }: { given: string; why: string }) {
  const [code, setCode] = useState(given);
  const show = useShow();
  const navigate = useNavigate();
  useTitle(["Join a lesson"]);
  const join = useMutation({
    mutationFn: () => answered(api.POST("/api/join", { body: { code } })),
    onSuccess: (page) => {
      show(page);
      void navigate("/team", { replace: true });
    },
  });
  const wrong = join.error instanceof ApiError ? join.error.fields["code"] : undefined;
  return (
    <Box
      component="main"
      sx={{ minHeight: "100vh", display: "grid", alignContent: "center", justifyContent: "center", p: 3 }}
    >
      <Box
        component="form"
        sx={{ width: "min(30rem, calc(100vw - 48px))" }}
        onSubmit={(event) => {
          event.preventDefault();
          join.mutate();
        }}
      >
        <Box sx={{ display: "flex", gap: 1.5, alignItems: "center", mb: 4 }}>
          <GirderMark size={34} />
          <Typography sx={{ fontWeight: 700, fontSize: "1.7rem" }}>Even Girder</Typography>
        </Box>
        <Typography variant="h1" sx={{ mb: 1 }}>
          Your lesson’s code
        </Typography>
        <Typography sx={{ mb: 3, color: ink.soft }}>
          {why || "Your teacher shows it. No name and no password are needed."}
        </Typography>
        <TextField
          fullWidth
          required
          label="Code"
          value={code}
          error={wrong !== undefined}
          helperText={wrong ?? "Six letters and digits; there is no O, 0, I, 1 or L."}
          autoComplete="off"
          onChange={(event) => setCode(event.target.value)}
          slotProps={{
            htmlInput: {
              maxLength: 40,
              autoCapitalize: "none",
              spellCheck: false,
              style: { fontFamily: condensed, fontSize: "2.4rem", letterSpacing: "0.12em" },
            },
          }}
          sx={{ mb: 3 }}
        />
        {join.isError && wrong === undefined && <Notice kind="problem">{sentenceOf(join.error)}</Notice>}
        <Button type="submit" variant="contained" size="large" disabled={join.isPending} fullWidth>
          Come in
        </Button>
      </Box>
    </Box>
  );
}
