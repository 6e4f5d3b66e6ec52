/** Inviting into a school, and invitations that nobody used yet. */
import { Box, Button, Typography } from "@mui/material";
import { answered, api } from "../../api/client";
import { useSchoolWrite } from "../../api/queries";
import type { SchoolInvitation } from "../../api/types";
import { WayIn } from "../../drawing/WayIn";
import { formatMoment } from "../../shared/format";
import { Notice, sentenceOf } from "../../shared/states";
import { ink } from "../../shared/theme";

export function Inviting({ invitations }: { invitations: readonly SchoolInvitation[] }) {
  const invite = useSchoolWrite((administers: boolean) =>
    answered(api.POST("/api/school/invitations", { body: { administers } })),
  );
  const takeBack = useSchoolWrite((id: number) =>
    answered(api.DELETE("/api/school-invitations/{id}", { params: { path: { id } } })),
  );
  // It stays on screen whatever else is done on the page.
  const made = invitations.length > 0 ? invite.data?.made : null;
  const failed = invite.error ?? takeBack.error;
  return (
    <Box component="section" aria-labelledby="inviting" sx={{ mt: 4 }}>
      <Typography variant="h2" id="inviting" sx={{ mb: 1 }}>
        Invite a colleague
      </Typography>
      <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap" }}>
        <Button variant="outlined" disabled={invite.isPending} onClick={() => invite.mutate(false)}>
          Invite a teacher
        </Button>
        <Button disabled={invite.isPending} onClick={() => invite.mutate(true)}>
          Invite somebody who administers
        </Button>
      </Box>
      {made && (
        <Box sx={{ mt: 2 }} role="status">
          <WayIn
            picture={made.picture}
            code={made.code}
            address={made.address}
            sizePx={150}
            codeSize="1.5rem"
          >
            <Typography sx={{ color: ink.soft, maxWidth: 480 }}>
              Give it to one colleague. It works once, for two weeks, and is shown only now. It makes an
              account; who has one already joins with it under <b>Account</b>, <b>Your school</b>.
            </Typography>
          </WayIn>
        </Box>
      )}
      {invitations.map((invitation) => (
        <Typography key={invitation.id} sx={{ mt: 1, color: ink.soft }}>
          Invited by {invitation.by}
          {invitation.administers && ", to administer"}, till {formatMoment(invitation.until)}
          <Button size="small" disabled={takeBack.isPending} onClick={() => takeBack.mutate(invitation.id)}>
            Take it back
          </Button>
        </Typography>
      ))}
      {failed && <Notice kind="problem">{sentenceOf(failed)}</Notice>}
    </Box>
  );
}
