/** Signing in with the account of one's school: a button for each that has one, and what came of it last time. */
import { Box, Button, Typography } from "@mui/material";
import { useMutation } from "@tanstack/react-query";
import { useLocation, useSearchParams } from "react-router";
import { answered, api } from "../../api/client";
import type { Session } from "../../api/types";
import { Notice, sentenceOf } from "../../shared/states";
import { ink } from "../../shared/theme";

const TURNED_AWAY: Record<string, string> = {
  failed: "Your school did not sign you in. Try again, or ask who administers it.",
  no_address:
    "Your school’s account names no e-mail address that the school has checked. Ask who administers it.",
  elsewhere:
    "There is an account with your address that is not of this school. Sign in with its password; with it you can join the school.",
  shut: "Your account was removed. Ask who administers your school.",
  no_school: "This school is not here any more.",
};

export function SchoolSignOns({ ways }: { ways: Session["sign_ons"] }) {
  const { pathname } = useLocation();
  const why = useSearchParams()[0].get("sign_on");
  const begin = useMutation({
    mutationFn: (school: string) =>
      answered(api.POST("/api/session/sign-on", { body: { school, then: pathname } })),
    onSuccess: ({ address }) => window.location.assign(address),
  });
  return (
    <>
      {why !== null && <Notice kind="problem">{TURNED_AWAY[why] ?? TURNED_AWAY["failed"]}</Notice>}
      {ways.length > 0 && (
        <Box sx={{ mt: 3, pt: 2, borderTop: `1px solid ${ink.line}` }}>
          <Typography sx={{ mb: 1, color: ink.soft }}>Or with the account of your school:</Typography>
          <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1 }}>
            {ways.map(({ school, name }) => (
              <Button
                key={school}
                variant="outlined"
                disabled={begin.isPending || begin.isSuccess}
                onClick={() => begin.mutate(school)}
              >
                {name}
              </Button>
            ))}
          </Box>
          {begin.isError && <Notice kind="problem">{sentenceOf(begin.error)}</Notice>}
        </Box>
      )}
    </>
  );
}
