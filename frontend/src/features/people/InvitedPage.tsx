/** An invitation into a colleague's class: what it is into, and coming in by it. */
import { Box, Button, Link, Typography } from "@mui/material";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Link as RouterLink, useNavigate, useParams } from "react-router";
import { answered, api } from "../../api/client";
import type { Part } from "../../api/types";
import { Failed, Loading, Notice, sentenceOf } from "../../shared/states";
import { useTitle } from "../../shared/title";

const MAY: Record<Part, string> = {
  lead: "You plan and run its lessons together, and can invite others.",
  helper: "You check teams in and run a bench; all else you can look at.",
  observer: "You can look at everything, and change nothing.",
};

export default function InvitedPage() {
  const code = useParams()["code"] ?? "";
  const client = useQueryClient();
  const go = useNavigate();
  useTitle(["Invitation"]);
  const invited = useQuery({
    queryKey: ["invited", code] as const,
    queryFn: () => answered(api.POST("/api/invited", { body: { code, accept: false } })),
    retry: false,
    staleTime: Infinity,
  });
  const accept = useMutation({
    mutationFn: () => answered(api.POST("/api/invited", { body: { code, accept: true } })),
    onSuccess: async (answer) => {
      await client.invalidateQueries({ predicate: (query) => query.queryKey[0] !== "invited" });
      void go(`/classes/${answer.school_class}`, { replace: true });
    },
  });
  if (invited.isPending) return <Loading what="the invitation" />;
  if (invited.isError)
    return (
      <>
        <Failed error={invited.error} />
        <Link component={RouterLink} to="/" color="inherit">
          To your runs and classes
        </Link>
      </>
    );
  const { by, class_name: name, part } = invited.data;
  return (
    <Box sx={{ pt: 4, maxWidth: 620 }}>
      <Typography variant="h1">
        {by} invites you into {name}.
      </Typography>
      <Typography sx={{ my: 2, fontSize: "1.2rem" }}>{MAY[part]}</Typography>
      <Button variant="contained" size="large" disabled={accept.isPending} onClick={() => accept.mutate()}>
        Come in
      </Button>
      {accept.isError && <Notice kind="problem">{sentenceOf(accept.error)}</Notice>}
    </Box>
  );
}
