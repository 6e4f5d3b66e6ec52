/** Colleagues in a class: who has which part, inviting, giving the class away, leaving, and who did what. */
import { Box, Button, MenuItem, TextField, Typography } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { answered, api, done } from "../../api/client";
import { keys, useDeeds, useTogether } from "../../api/queries";
import type { Colleague, Part, SchoolClass, Together } from "../../api/types";
import { WayIn } from "../../drawing/WayIn";
import { formatMoment } from "../../shared/format";
import { Loading, Notice, sentenceOf } from "../../shared/states";
import { ink } from "../../shared/theme";
import { leads, PARTS } from "./parts";

const words = (part: Part): string => PARTS.find(([key]) => key === part)?.[1] ?? "";

function PartChoice({
  label,
  part,
  onChoose,
}: {
  label: string;
  part: Part;
  onChoose: (part: Part) => void;
}) {
  return (
    <TextField
      select
      size="small"
      value={part}
      onChange={(event) => onChoose(event.target.value as Part)}
      slotProps={{ select: { SelectDisplayProps: { "aria-label": label } } }}
      sx={{ minWidth: 230 }}
    >
      {PARTS.map(([key, says]) => (
        <MenuItem key={key} value={key}>
          {says}
        </MenuItem>
      ))}
    </TextField>
  );
}

/** A change of who has a part; its answer is what stands there then. */
function useTogetherWrite<Given>(id: number, write: (given: Given) => Promise<Together>) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: write,
    onSuccess: (fresh) => client.setQueryData(keys.together(id), fresh),
  });
}

function Invite({ id, made }: { id: number; made: Together["made"] }) {
  const [part, setPart] = useState<Part>("helper");
  const invite = useTogetherWrite(id, () =>
    answered(api.POST("/api/classes/{id}/colleagues", { params: { path: { id } }, body: { part } })),
  );
  return (
    <Box sx={{ mt: 2 }}>
      <Box sx={{ display: "flex", gap: 1, alignItems: "center", flexWrap: "wrap" }}>
        <Typography>Somebody who</Typography>
        <PartChoice label="What the colleague is to do" part={part} onChoose={setPart} />
        <Button variant="outlined" disabled={invite.isPending} onClick={() => invite.mutate(undefined)}>
          Invite
        </Button>
      </Box>
      {invite.isError && <Notice kind="problem">{sentenceOf(invite.error)}</Notice>}
      {made && (
        <Box sx={{ mt: 2 }} role="status">
          <WayIn
            picture={made.picture}
            code={made.code}
            address={made.address}
            sizePx={150}
            codeSize="1.5rem"
          >
            <Typography sx={{ color: ink.soft }}>
              Give it to one colleague. It works once, for two weeks, and is shown only now. Who has no
              account makes one with it.
            </Typography>
          </WayIn>
        </Box>
      )}
    </Box>
  );
}

function Line({ colleague, schoolClass }: { colleague: Colleague; schoolClass: SchoolClass }) {
  const { id } = schoolClass;
  const client = useQueryClient();
  const path = { params: { path: { id: colleague.id } } };
  const [giving, setGiving] = useState(false);
  const give = useTogetherWrite(id, (part: Part) =>
    answered(api.PUT("/api/colleagues/{id}", { ...path, body: { part } })),
  );
  const end = useTogetherWrite(id, () => answered(api.DELETE("/api/colleagues/{id}", path)));
  const hand = useMutation({
    mutationFn: () =>
      done(
        api.PUT("/api/classes/{id}/owner", { params: { path: { id } }, body: { colleague: colleague.id } }),
      ),
    onSuccess: () => client.invalidateQueries(),
  });
  const failed = give.error ?? end.error ?? hand.error;
  return (
    <Box component="li" sx={{ py: 1, borderBottom: `1px solid ${ink.line}` }}>
      <Box sx={{ display: "flex", gap: 1.5, alignItems: "center", flexWrap: "wrap" }}>
        <Typography sx={{ fontWeight: 600, flex: "1 1 9rem" }}>
          {colleague.name}
          <Typography component="span" variant="body2" sx={{ display: "block", color: ink.soft }}>
            {colleague.email}
          </Typography>
        </Typography>
        {leads(schoolClass.part) ? (
          <>
            <PartChoice
              label={`What ${colleague.name} does`}
              part={colleague.part}
              onChoose={(part) => give.mutate(part)}
            />
            <Button size="small" disabled={end.isPending} onClick={() => end.mutate(undefined)}>
              Take out
            </Button>
          </>
        ) : (
          <Typography sx={{ color: ink.soft }}>{words(colleague.part)}</Typography>
        )}
        {schoolClass.part === "owner" && !giving && (
          <Button size="small" onClick={() => setGiving(true)}>
            Give the class to {colleague.name}
          </Button>
        )}
      </Box>
      {giving && (
        <Notice kind="caution">
          {schoolClass.name} goes to {colleague.name} with all its runs; you lead it together from then on,
          and only {colleague.name} can give it back.
          <Box sx={{ mt: 1 }}>
            <Button variant="contained" size="small" disabled={hand.isPending} onClick={() => hand.mutate()}>
              Give it away
            </Button>
            <Button size="small" onClick={() => setGiving(false)}>
              Keep it
            </Button>
          </Box>
        </Notice>
      )}
      {failed && <Notice kind="problem">{sentenceOf(failed)}</Notice>}
    </Box>
  );
}

function Leave({ schoolClass }: { schoolClass: SchoolClass }) {
  const client = useQueryClient();
  const go = useNavigate();
  const leave = useMutation({
    mutationFn: () =>
      done(api.DELETE("/api/classes/{id}/colleagues", { params: { path: { id: schoolClass.id } } })),
    onSuccess: async () => {
      await client.invalidateQueries();
      void go("/");
    },
  });
  return (
    <>
      <Button sx={{ px: 0, mt: 1 }} disabled={leave.isPending} onClick={() => leave.mutate()}>
        Leave this class
      </Button>
      {leave.isError && <Notice kind="problem">{sentenceOf(leave.error)}</Notice>}
    </>
  );
}

function WhoDidWhat({ id }: { id: number }) {
  const [open, setOpen] = useState(false);
  const deeds = useDeeds(id, open);
  return (
    <Box sx={{ mt: 2 }}>
      <Button sx={{ px: 0 }} aria-expanded={open} onClick={() => setOpen(!open)}>
        {open ? "Put away who did what" : "Who did what"}
      </Button>
      {open && deeds.isPending && <Loading what="who did what" />}
      {open && deeds.isError && <Notice kind="problem">{sentenceOf(deeds.error)}</Notice>}
      {open && deeds.data && (
        <Box component="ol" sx={{ listStyle: "none", m: 0, p: 0, maxHeight: 320, overflowY: "auto" }}>
          {deeds.data.length === 0 && <li>Nothing yet since a colleague came in.</li>}
          {deeds.data.map((deed) => (
            <Box
              component="li"
              key={`${deed.at} ${deed.words} ${deed.about}`}
              sx={{ py: 0.5, borderBottom: `1px solid ${ink.line}` }}
            >
              <Box component="span" sx={{ color: ink.soft }}>
                {formatMoment(deed.at)}
              </Box>{" "}
              <b>{deed.name}</b> {deed.words}
              {deed.about && `: ${deed.about}`}
            </Box>
          ))}
          <li>Entries of a test name who made them in its record.</li>
        </Box>
      )}
    </Box>
  );
}

export function Colleagues({ schoolClass }: { schoolClass: SchoolClass }) {
  const { id } = schoolClass;
  const together = useTogether(id);
  const takeBack = useTogetherWrite(id, (invitation: number) =>
    answered(api.DELETE("/api/invitations/{id}", { params: { path: { id: invitation } } })),
  );
  if (!together.data)
    return together.isError ? <Notice kind="problem">{sentenceOf(together.error)}</Notice> : null;
  const { owner, colleagues, invitations, made } = together.data;
  const mayInvite = leads(schoolClass.part);
  return (
    <Box component="section" aria-label="Colleagues" sx={{ mt: 4 }}>
      <Typography variant="h2">Colleagues</Typography>
      <Typography sx={{ color: ink.soft }}>
        {schoolClass.part === "owner"
          ? "A colleague at the second bench, with an account of their own."
          : `It is ${owner}’s class.`}
      </Typography>
      <Box component="ul" sx={{ listStyle: "none", m: 0, p: 0 }}>
        {colleagues.map((colleague) => (
          <Line key={colleague.id} colleague={colleague} schoolClass={schoolClass} />
        ))}
      </Box>
      {mayInvite && <Invite id={id} made={made} />}
      {mayInvite &&
        invitations.map((invitation) => (
          <Typography key={invitation.id} sx={{ mt: 1, color: ink.soft }}>
            Invited by {invitation.by}, {words(invitation.part)}, till {formatMoment(invitation.until)}
            <Button size="small" disabled={takeBack.isPending} onClick={() => takeBack.mutate(invitation.id)}>
              Take it back
            </Button>
          </Typography>
        ))}
      {takeBack.isError && <Notice kind="problem">{sentenceOf(takeBack.error)}</Notice>}
      {schoolClass.part !== "owner" && <Leave schoolClass={schoolClass} />}
      {mayInvite && <WhoDidWhat id={id} />}
    </Box>
  );
}
