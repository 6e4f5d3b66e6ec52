/** The account: another password, where it is signed in, and how to leave. */
import { Box, Button, TextField, Typography } from "@mui/material";
import { NamedDialog } from "../../shared/NamedDialog";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState, type ReactNode } from "react";
import { Link as RouterLink } from "react-router";
import { ApiError, answered, api } from "../../api/client";
import { keys, showAnswer, useSession } from "../../api/queries";
import type { Session } from "../../api/types";
import { formatMoment } from "../../shared/format";
import { OwnPassword } from "../../shared/OwnPassword";
import { Failed, Loading, Notice, sentenceOf } from "../../shared/states";
import { ink } from "../../shared/theme";

const fieldsOf = (error: unknown): Readonly<Record<string, string>> =>
  error instanceof ApiError ? error.fields : {};

function Part({ id, title, children }: { id: string; title: string; children: ReactNode }) {
  return (
    <Box component="section" aria-labelledby={id} sx={{ mt: 4 }}>
      <Typography variant="h2" id={id} sx={{ mb: 1 }}>
        {title}
      </Typography>
      {children}
    </Box>
  );
}

function NewPassword() {
  const [entry, setEntry] = useState({ old: "", new: "" });
  const client = useQueryClient();
  const change = useMutation({
    mutationFn: () => answered(api.PUT("/api/session/password", { body: entry })),
    onSuccess: async () => {
      setEntry({ old: "", new: "" });
      await client.invalidateQueries({ queryKey: keys.signedIn });
    },
  });
  const fields = fieldsOf(change.error);
  const field = (name: "old" | "new", label: string, said: string | undefined, fills: string, hint = "") => (
    <TextField
      required
      fullWidth
      type="password"
      label={label}
      value={entry[name]}
      error={said !== undefined}
      helperText={said ?? hint}
      autoComplete={fills}
      onChange={(event) => {
        change.reset();
        setEntry({ ...entry, [name]: event.target.value });
      }}
      sx={{ mb: 2 }}
    />
  );
  const wrongOld = change.error instanceof ApiError && change.error.code === "wrong_password";
  return (
    <Box
      component="form"
      sx={{ maxWidth: 420, pt: 1 }}
      onSubmit={(event) => {
        event.preventDefault();
        change.mutate();
      }}
    >
      {field("old", "Password till now", wrongOld ? fields["password"] : undefined, "current-password")}
      {field(
        "new",
        "New password",
        wrongOld ? undefined : fields["password"],
        "new-password",
        "At least twelve characters. All other places are signed out.",
      )}
      <Button type="submit" variant="outlined" disabled={change.isPending}>
        Change the password
      </Button>
      {change.isSuccess && <Typography sx={{ mt: 1, color: ink.held }}>✓ Changed.</Typography>}
      {change.isError && Object.keys(fields).length === 0 && (
        <Notice kind="problem">{sentenceOf(change.error)}</Notice>
      )}
    </Box>
  );
}

function SignedIn() {
  const client = useQueryClient();
  const places = useQuery({ queryKey: keys.signedIn, queryFn: () => answered(api.GET("/api/signed-in")) });
  const end = useMutation({
    mutationFn: (id: number | null) =>
      id === null
        ? answered(api.DELETE("/api/signed-in"))
        : answered(api.DELETE("/api/signed-in/{id}", { params: { path: { id } } })),
    onSuccess: (left) => showAnswer(client, keys.signedIn, left),
  });
  if (places.isPending) return <Loading what="where you are signed in" />;
  if (!places.data) return <Failed error={places.error} retry={() => void places.refetch()} />;
  const others = places.data.filter((place) => !place.here);
  return (
    <Box sx={{ maxWidth: 560 }}>
      <Box component="ul" sx={{ listStyle: "none", p: 0, m: 0 }}>
        {places.data.map((place) => (
          <Box
            component="li"
            key={place.id}
            sx={{
              display: "flex",
              gap: 2,
              alignItems: "center",
              py: 0.75,
              borderBottom: `1px solid ${ink.line}`,
            }}
          >
            <Typography sx={{ flex: 1 }}>
              {place.browser}
              {place.here && <b>, here</b>}
              <Typography component="span" variant="body2" sx={{ display: "block", color: ink.soft }}>
                since {formatMoment(place.began_at)}
              </Typography>
            </Typography>
            {!place.here && (
              <Button
                size="small"
                aria-label={`Sign out ${place.browser} of ${formatMoment(place.began_at)}`}
                disabled={end.isPending}
                onClick={() => end.mutate(place.id)}
              >
                Sign out
              </Button>
            )}
          </Box>
        ))}
      </Box>
      {others.length > 1 && (
        <Button sx={{ mt: 1, px: 0 }} disabled={end.isPending} onClick={() => end.mutate(null)}>
          Sign out everywhere but here
        </Button>
      )}
      {end.isError && <Notice kind="problem">{sentenceOf(end.error)}</Notice>}
    </Box>
  );
}

function Leave() {
  const [asking, setAsking] = useState(false);
  const [password, setPassword] = useState("");
  const client = useQueryClient();
  const leave = useMutation({
    mutationFn: () => answered(api.POST("/api/session/leave", { body: { password } })),
    onSuccess: (session: Session) => {
      client.setQueryData(keys.session, session);
      client.removeQueries({ predicate: (query) => query.queryKey[0] !== keys.session[0] });
    },
  });
  const said = fieldsOf(leave.error)["password"];
  return (
    <>
      <Typography sx={{ maxWidth: 560, mb: 1 }}>
        Everything goes with it: classes, runs, recipes, photographs. Take the files of the runs that you want
        to keep first (Compare, Record). For 30 days signing in brings it all back; after that it is gone for
        good.
      </Typography>
      <Button variant="outlined" onClick={() => setAsking(true)}>
        Delete the account
      </Button>
      {asking && (
        <NamedDialog open onClose={() => setAsking(false)} name="Delete the account?">
          <Box
            component="form"
            sx={{ p: 3, maxWidth: 420 }}
            onSubmit={(event) => {
              event.preventDefault();
              leave.mutate();
            }}
          >
            <Typography variant="h2" sx={{ mb: 2 }}>
              Delete the account?
            </Typography>
            <OwnPassword
              value={password}
              said={said}
              onType={setPassword}
              look={{ fullWidth: true, sx: { mb: 2 } }}
            />
            {leave.isError && said === undefined && <Notice kind="problem">{sentenceOf(leave.error)}</Notice>}
            <Button type="submit" variant="contained" disabled={leave.isPending}>
              Delete it
            </Button>
            <Button onClick={() => setAsking(false)}>Keep it</Button>
          </Box>
        </NamedDialog>
      )}
    </>
  );
}

export default function AccountPage() {
  const teacher = useSession().data?.teacher;
  const hasPassword = teacher?.has_password ?? true;
  return (
    <Box sx={{ pt: 2 }}>
      <Typography variant="h1">{teacher?.name}</Typography>
      <Typography sx={{ color: ink.soft }}>{teacher?.email}</Typography>
      <Part id="school" title="Your school">
        <Typography sx={{ mb: 1 }}>
          {teacher?.school ? teacher.school.name : "You are in no school here."}
          {teacher?.administers && ", which you administer"}
        </Typography>
        <Button component={RouterLink} to="/school" variant="outlined">
          {teacher?.school ? "To the school" : "Join a school"}
        </Button>
      </Part>
      <Part id="password" title="Another password">
        {teacher?.reset_at && (
          <Typography sx={{ mb: 1 }}>
            {teacher.reset_by} made a code for a new password of this account on{" "}
            {formatMoment(teacher.reset_at)}.
          </Typography>
        )}
        {hasPassword ? (
          <NewPassword />
        ) : (
          <Typography>You sign in with the account of your school, so there is none here.</Typography>
        )}
      </Part>
      <Part id="places" title="Where you are signed in">
        <SignedIn />
      </Part>
      <Part id="leave" title="Leave">
        <Leave />
      </Part>
    </Box>
  );
}
