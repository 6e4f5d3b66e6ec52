/** The way to the stations at which teams test by themselves, and how many of them want something. */
import { Button } from "@mui/material";
import { Link as RouterLink, useLocation } from "react-router";
import type { RunState } from "../../api/types";

/** The teams' own tests that want the teacher's eye, in words; empty for none. */
function wanting(state: RunState): string {
  const own = state.designs.flatMap((design) => design.trials).filter((trial) => trial.by_team);
  const testing = own.filter((trial) => trial.result.outcome === "running").length;
  const waiting = own.filter((trial) => trial.unconfirmed).length;
  return [testing > 0 ? `${testing} testing` : "", waiting > 0 ? `${waiting} to confirm` : ""]
    .filter(Boolean)
    .join(", ");
}

interface Props {
  state: RunState;
  /** For the head of every page: there only while a station wants something, and not on the stations' own page. */
  head?: boolean;
}

export function StationsLink({ state, head = false }: Props) {
  const { pathname } = useLocation();
  const now = wanting(state);
  const to = `/runs/${state.run.id}/stations`;
  if (head && (now === "" || pathname === to)) return null;
  return (
    <Button
      component={RouterLink}
      to={to}
      size="small"
      {...(head ? { variant: "contained" as const, sx: { ml: 1, py: 0 } } : {})}
    >
      {head ? `Stations: ${now}` : "Stations"}
    </Button>
  );
}
