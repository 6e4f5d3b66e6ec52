/** The school: whom to ask, what one shares; for who administers it, its teachers, counts, invitations, file and end. */
import { Box, Button, FormControlLabel, Switch, TextField, Typography } from "@mui/material";
import { useState } from "react";
import { ApiError, answered, api } from "../../api/client";
import { useSchool, useSchoolWrite } from "../../api/queries";
import type { SchoolPage as Page } from "../../api/types";
import { formatDate, plural } from "../../shared/format";
import { PaperLink } from "../../shared/LongWork";
import { Failed, Loading, Notice, sentenceOf } from "../../shared/states";
import { ink } from "../../shared/theme";
import { useTitle } from "../../shared/title";
import { EndOfSchool } from "./EndOfSchool";
import { Inviting } from "./Inviting";
import { TeacherTable } from "./TeacherTable";

function JoinSchool() {
  const [code, setCode] = useState("");
  const join = useSchoolWrite(() => answered(api.POST("/api/school", { body: { code } })));
  const said = join.error instanceof ApiError ? join.error.fields["code"] : undefined;
  return (
    <Box
      component="form"
      sx={{ maxWidth: 480, mt: 2 }}
      onSubmit={(event) => {
        event.preventDefault();
        join.mutate(undefined);
      }}
    >
      <Typography sx={{ mb: 2 }}>
        In a school you share a library of recipes with your colleagues, and somebody there can help when a
        password is forgotten. Your classes stay yours. Ask who administers your school for a code.
      </Typography>
      <TextField
        required
        fullWidth
        label="Code of the school"
        value={code}
        error={said !== undefined}
        helperText={said}
        onChange={(event) => {
          join.reset();
          setCode(event.target.value);
        }}
        sx={{ mb: 2 }}
      />
      {join.isError && said === undefined && <Notice kind="problem">{sentenceOf(join.error)}</Notice>}
      <Button type="submit" variant="contained" disabled={join.isPending}>
        Join the school
      </Button>
    </Box>
  );
}

function SharesWork({ shares }: { shares: boolean }) {
  const change = useSchoolWrite((shares_work: boolean) =>
    answered(api.PATCH("/api/school", { body: { shares_work } })),
  );
  return (
    <Box sx={{ mt: 2 }}>
      <FormControlLabel
        control={
          <Switch checked={shares} onChange={(_, on) => change.mutate(on)} disabled={change.isPending} />
        }
        label="The school’s file may hold my classes, recipes and runs"
      />
      <Typography variant="body2" sx={{ color: ink.soft, maxWidth: 620 }}>
        Who administers the school sees how much there is of yours, and nothing of it. When they take the
        school’s file along, your work is in it only with this on.
      </Typography>
      {change.isError && <Notice kind="problem">{sentenceOf(change.error)}</Notice>}
    </Box>
  );
}

function Counts({ counts }: { counts: NonNullable<NonNullable<Page["school"]>["counts"]> }) {
  const told: [number, string][] = [
    [counts.teachers, "teacher"],
    [counts.classes, "class"],
    [counts.runs, "run"],
    [counts.tests, "test"],
    [counts.shared, "shared recipe"],
  ];
  return (
    <Box
      component="ul"
      aria-label="How much there is"
      sx={{ display: "flex", flexWrap: "wrap", gap: 4, p: 0, my: 2 }}
    >
      {told.map(([count, what]) => (
        <Box component="li" key={what} sx={{ listStyle: "none" }}>
          <Typography component="span" sx={{ fontSize: "2rem", fontWeight: 700, lineHeight: 1 }}>
            {count}
          </Typography>{" "}
          {plural(what, count)}
        </Box>
      ))}
    </Box>
  );
}

export default function SchoolPage() {
  const page = useSchool();
  useTitle([page.data?.school?.name ?? "Your school"]);
  if (page.isPending) return <Loading what="your school" />;
  if (!page.data) return <Failed error={page.error} retry={() => void page.refetch()} />;
  const { school, shares_work: shares } = page.data;
  if (!school)
    return (
      <Box sx={{ pt: 2 }}>
        <Typography variant="h1">You are in no school here.</Typography>
        <JoinSchool />
      </Box>
    );
  return (
    <Box sx={{ pt: 2 }}>
      <Typography variant="h1">{school.name}</Typography>
      <Typography sx={{ color: ink.soft }}>
        {school.district && `${school.district}. `}
        {school.administrators.length > 0
          ? `Administered by ${school.administrators.join(", ")}.`
          : "Nobody administers it; ask who runs this server."}
      </Typography>
      {school.gone_on && (
        <Notice kind="caution">
          This school is to be deleted, with all its accounts, on {formatDate(school.gone_on.slice(0, 10))}.
          Till then all goes on as usual: take along the files of what you want to keep (Compare, Record).
        </Notice>
      )}
      {school.counts && <Counts counts={school.counts} />}
      {!school.administers && <SharesWork shares={shares} />}
      {school.administers && (
        <>
          <TeacherTable teachers={school.teachers} />
          <Inviting invitations={school.invitations} />
          <Box component="section" aria-labelledby="file" sx={{ mt: 4 }}>
            <Typography variant="h2" id="file">
              The school’s file
            </Typography>
            <Typography sx={{ maxWidth: 620, mb: 1 }}>
              Accounts, the library, and the classes, recipes and runs of those who share their work, in one
              ZIP file. Runs and recipes in it can be brought in again, one by one.
            </Typography>
            <SharesWork shares={shares} />
            <PaperLink key="/api/school/file" href="/api/school/file" label="Take the school’s file" bold />
          </Box>
          <EndOfSchool goneOn={school.gone_on} />
        </>
      )}
    </Box>
  );
}
