/** Deleting a school, which takes a password and 30 days, and taking that back. */
import { Box, Button, Typography } from "@mui/material";
import { useState } from "react";
import { ApiError, answered, api } from "../../api/client";
import { useSchoolWrite } from "../../api/queries";
import { OwnPassword } from "../../shared/OwnPassword";
import { Notice, sentenceOf } from "../../shared/states";

export function EndOfSchool({ goneOn }: { goneOn: string | null }) {
  const [password, setPassword] = useState("");
  const end = useSchoolWrite((typed: string) =>
    answered(api.POST("/api/school/removal", { body: { password: typed } })),
  );
  const stay = useSchoolWrite(() => answered(api.DELETE("/api/school/removal")));
  const said = end.error instanceof ApiError ? end.error.fields["password"] : undefined;
  const failed = stay.error ?? (said === undefined ? end.error : null);
  return (
    <Box component="section" aria-labelledby="end" sx={{ mt: 4, maxWidth: 620 }}>
      <Typography variant="h2" id="end">
        The end of the school
      </Typography>
      {goneOn ? (
        <Button variant="outlined" disabled={stay.isPending} onClick={() => stay.mutate(undefined)}>
          Do not delete it after all
        </Button>
      ) : (
        <Box
          component="form"
          onSubmit={(event) => {
            event.preventDefault();
            end.mutate(password);
            setPassword("");
          }}
        >
          <Typography sx={{ mb: 2 }}>
            After 30 days the school is gone with all its accounts, classes, runs and photographs. Till then
            everybody in it is told and goes on as usual, and you can take it back.
          </Typography>
          <Box sx={{ display: "flex", gap: 1, alignItems: "flex-start", flexWrap: "wrap" }}>
            <OwnPassword value={password} said={said} onType={setPassword} look={{ size: "small" }} />
            <Button type="submit" variant="outlined" disabled={end.isPending}>
              Delete the school
            </Button>
          </Box>
        </Box>
      )}
      {failed && <Notice kind="problem">{sentenceOf(failed)}</Notice>}
    </Box>
  );
}
