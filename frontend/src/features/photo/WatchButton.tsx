/** Watching each second instead of picture by picture: through this tablet's camera, or made up to practise with. */
import { Box, Button, Typography } from "@mui/material";
import { useMutation } from "@tanstack/react-query";
import { Notice, sentenceOf } from "../../shared/states";
import { ink } from "../../shared/theme";
import { ASKED, madeUpEye, openCamera, type Eye } from "./eye";
import { GIVING } from "./standins";

interface Props {
  set: number;
  onWatch: (eye: Eye) => void;
}

export function WatchButton({ set, onWatch }: Props) {
  const open = useMutation({ mutationFn: openCamera, onSuccess: onWatch });
  return (
    <Box sx={{ mt: 2 }}>
      <Button variant="outlined" disabled={open.isPending} onClick={() => open.mutate()}>
        Watch it each second
      </Button>
      {open.isPending && <Typography role="status">{ASKED}</Typography>}
      {open.isError && <Notice kind="caution">{sentenceOf(open.error)}</Notice>}
      <Typography variant="body2" sx={{ color: ink.soft, mt: 1 }}>
        The tablet stands still, and the bench stays in reach. To practise, watch{" "}
        {GIVING.map(([key, label, perKg, says], i) => (
          <span key={key}>
            {i > 0 && " or "}
            <Button
              size="small"
              sx={{ p: 0, minWidth: 0, verticalAlign: "baseline" }}
              onClick={() => onWatch(madeUpEye(key, set, perKg))}
            >
              {label}
            </Button>{" "}
            ({says})
          </span>
        ))}
        .
      </Typography>
    </Box>
  );
}
