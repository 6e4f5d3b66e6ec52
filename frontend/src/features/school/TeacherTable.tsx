/** The teachers of a school with how much there is of theirs, and what can be done for each. */
import { Box, Button, Typography } from "@mui/material";
import { useState } from "react";
import { answered, api } from "../../api/client";
import { useSchoolWrite } from "../../api/queries";
import type { SchoolTeacher } from "../../api/types";
import { formatDate, plural } from "../../shared/format";
import { Notice, sentenceOf } from "../../shared/states";
import { SureButton } from "../../shared/SureButton";
import { condensed, ink } from "../../shared/theme";

const many = (count: number, what: string) => `${count} ${plural(what, count)}`;

interface Told {
  name: string;
  code: string;
  went: readonly string[];
}

interface LineProps {
  teacher: SchoolTeacher;
  /** What came of a change that is told above the list. */
  onDone: (told: Told) => void;
}

function Line({ teacher, onDone }: LineProps) {
  const path = { params: { path: { id: teacher.id } } };
  const appoint = useSchoolWrite((administers: boolean) =>
    answered(api.PATCH("/api/school-teachers/{id}", { ...path, body: { administers } })),
  );
  const letIn = useSchoolWrite((let_in: boolean) =>
    answered(api.PUT("/api/school-teachers/{id}", { ...path, body: { let_in } })),
  );
  const reset = useSchoolWrite(() => answered(api.POST("/api/school-teachers/{id}/reset-code", path)));
  const failed = appoint.error ?? letIn.error ?? reset.error;
  const { name } = teacher;
  return (
    <Box component="li" sx={{ py: 1, borderBottom: `1px solid ${ink.line}` }}>
      <Box
        sx={{
          display: "grid",
          gridTemplateColumns: { xs: "1fr", md: "minmax(0, 260px) minmax(0, 300px) 1fr" },
          columnGap: 2,
          alignItems: "center",
        }}
      >
        <Typography sx={{ fontWeight: 600, overflowWrap: "anywhere" }}>
          {name}
          {teacher.administers && " · administers"}
          <Typography component="span" variant="body2" sx={{ display: "block", color: ink.soft }}>
            {teacher.email}
          </Typography>
        </Typography>
        <Typography variant="body2">
          {[
            many(teacher.class_count, "class"),
            many(teacher.run_count, "run"),
            many(teacher.test_count, "test"),
          ].join(", ")}
          <Box component="span" sx={{ display: "block", color: ink.soft }}>
            {teacher.gone_on
              ? `${teacher.is_active ? "is leaving" : "removed"}; gone for good on ${formatDate(teacher.gone_on.slice(0, 10))}`
              : teacher.last_login
                ? `last here on ${formatDate(teacher.last_login.slice(0, 10))}`
                : "never signed in yet"}
          </Box>
        </Typography>
        <Box sx={{ ml: -1 }}>
          {teacher.is_active ? (
            <>
              {!teacher.me && (
                <Button
                  size="small"
                  aria-label={`A new password for ${name}`}
                  disabled={reset.isPending}
                  onClick={() =>
                    reset.mutate(undefined, { onSuccess: ({ code }) => onDone({ name, code, went: [] }) })
                  }
                >
                  New password
                </Button>
              )}
              <Button size="small" onClick={() => appoint.mutate(!teacher.administers)}>
                {teacher.administers ? "Administers no more" : "Let administer"}
              </Button>
              {!teacher.me && (
                <SureButton
                  says="Remove"
                  sure={`Yes, remove ${name}`}
                  onSure={() =>
                    letIn.mutate(false, { onSuccess: ({ went }) => onDone({ name, code: "", went }) })
                  }
                />
              )}
            </>
          ) : (
            <Button size="small" disabled={letIn.isPending} onClick={() => letIn.mutate(true)}>
              Let in again
            </Button>
          )}
        </Box>
      </Box>
      {failed && <Notice kind="problem">{sentenceOf(failed)}</Notice>}
    </Box>
  );
}

export function TeacherTable({ teachers }: { teachers: readonly SchoolTeacher[] }) {
  const [told, setTold] = useState<Told | null>(null);
  return (
    <Box component="section" aria-labelledby="teachers" sx={{ mt: 4 }}>
      <Typography variant="h2" id="teachers">
        Teachers
      </Typography>
      <Typography sx={{ color: ink.soft, maxWidth: 680 }}>
        Who is removed cannot sign in any more; after 30 days the account is gone, with classes that nobody
        leads with them. What is in classes is for their teachers alone.
      </Typography>
      {told?.code && (
        <Notice kind="done">
          <span>A code for {told.name}, once, within an hour:</span>
          <Typography sx={{ fontFamily: condensed, fontWeight: 700, fontSize: "1.5rem" }}>
            {told.code}
          </Typography>
          Hand it over in person. At the sign-in, <b>Password forgotten</b> asks for it; {told.name} is told
          that you made it.
        </Notice>
      )}
      {told && told.went.length > 0 && <Notice kind="done">{told.went.join("; ")}.</Notice>}
      <Box component="ul" sx={{ listStyle: "none", m: 0, p: 0 }}>
        {teachers.map((teacher) => (
          <Line key={teacher.id} teacher={teacher} onDone={setTold} />
        ))}
      </Box>
    </Box>
  );
}
