/** The load kit of this run: what one weighs, how sure that is, and how far the kit goes. */
import {
  Box,
  Button,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  TextField,
  Typography,
} from "@mui/material";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { answered, api } from "../../api/client";
import type { KitItem } from "../../api/types";
import { formatMass, formatMassWithDoubt } from "../../app/format";
import { Notice, sentenceOf } from "../../app/states";
import { ink } from "../../app/theme";
import { useUnits } from "../../app/units";
import { KitItemDrawing } from "../../drawing/KitItemDrawing";
import { useRunState } from "../run/useRunState";

const total = (kit: readonly KitItem[]) => kit.reduce((sum, item) => sum + item.mass_kg * item.count, 0);

/** Whether the cup takes what it should: how many objects of each kind fit, and what they weigh. */
function CupFits() {
  const { run } = useRunState().state;
  const units = useUnits();
  const [size, setSize] = useState({ diameter: "", height: "" });
  const fit = useMutation({
    mutationFn: () =>
      answered(api.POST("/api/runs/{id}/container", { params: { path: { id: run.id } }, body: size })),
  });
  return (
    <Box
      component="form"
      sx={{ mt: 3 }}
      onSubmit={(event) => {
        event.preventDefault();
        fit.mutate();
      }}
    >
      <Typography variant="h2">Does it fit the cup?</Typography>
      <Box sx={{ display: "flex", gap: 1.5, mt: 1, alignItems: "start" }}>
        <TextField
          label="Inner width"
          placeholder="85 mm"
          value={size.diameter}
          onChange={(e) => setSize({ ...size, diameter: e.target.value })}
        />
        <TextField
          label="Inner height"
          placeholder="100 mm"
          value={size.height}
          onChange={(e) => setSize({ ...size, height: e.target.value })}
        />
        <Button type="submit" variant="outlined">
          Work it out
        </Button>
      </Box>
      {fit.isError && <Notice kind="problem">{sentenceOf(fit.error)}</Notice>}
      {fit.data?.map((one) => {
        const item = run.kit.find((entry) => entry.key === one.item);
        return (
          <Typography key={one.item} sx={{ mt: 0.75 }}>
            About <b>{one.count}</b> × {item?.name}, level with the rim: {formatMass(one.mass_kg, units)}.
          </Typography>
        );
      })}
      <Typography variant="body2" sx={{ color: ink.soft, mt: 0.5 }}>
        For loosely poured objects of one kind, six tenths of the room; a wedged pile takes fewer.
      </Typography>
    </Box>
  );
}

export default function KitPage() {
  const { run } = useRunState().state;
  const { family } = useRunState();
  const units = useUnits();
  const target = run.setup["target_kg"];
  const mass = total(run.kit);
  return (
    <Box sx={{ pt: 3, maxWidth: 1100 }}>
      <Typography variant="h1">{formatMass(mass, units)} of load on one bench.</Typography>
      <Typography sx={{ color: ink.soft, mt: 0.5, mb: 2 }}>
        {target
          ? `The target is ${formatMass(target, units)}; the kit goes to ${(mass / target).toFixed(1)} times that before it runs out.`
          : "A bridge that outlasts all of it counts as “at least” this much."}
      </Typography>
      <Table>
        <TableHead>
          <TableRow>
            <TableCell>Item</TableCell>
            <TableCell />
            <TableCell align="right">In the kit</TableCell>
            <TableCell align="right">One weighs</TableCell>
            <TableCell>How that is known</TableCell>
            <TableCell align="right">Together</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {run.kit.map((item) => (
            <TableRow key={item.key}>
              <TableCell sx={{ width: 70 }}>
                <KitItemDrawing item={item} />
              </TableCell>
              <TableCell sx={{ fontWeight: 600, fontSize: "1.15rem" }}>{item.name}</TableCell>
              <TableCell align="right" sx={{ fontSize: "1.15rem" }}>
                {item.count}
              </TableCell>
              <TableCell align="right" sx={{ fontSize: "1.15rem" }}>
                {formatMassWithDoubt(item.mass_kg, item.mass_u_kg, units)}
              </TableCell>
              <TableCell sx={{ color: ink.soft }}>
                {item.batch_count === 1 ? "one alone" : `${item.batch_count} weighed together`} showed{" "}
                {formatMass(item.batch_mass_kg, units)} on a scale that steps by{" "}
                {formatMass(item.scale_resolution_kg, units)}
              </TableCell>
              <TableCell align="right" sx={{ fontWeight: 600, fontSize: "1.15rem" }}>
                {formatMass(item.mass_kg * item.count, units)}
              </TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
      <CupFits />
      {family.cautions
        .filter((caution) => caution.stages.includes("kit"))
        .map((caution) => (
          <Typography key={caution.key} variant="body2" sx={{ mt: 1.5 }}>
            <b>{caution.title}.</b> {caution.text}
          </Typography>
        ))}
    </Box>
  );
}
