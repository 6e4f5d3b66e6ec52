/** The load kit of this run: what one weighs, how sure that is, and how far the kit goes. */
import { Box, Table, TableBody, TableCell, TableHead, TableRow, Typography } from "@mui/material";
import type { KitItem } from "../../api/types";
import { formatMass, formatMassWithDoubt } from "../../app/format";
import { ink } from "../../app/theme";
import { useUnits } from "../../app/units";
import { KitItemDrawing } from "../../drawing/KitItemDrawing";
import { useRunState } from "../run/useRunState";

const total = (kit: readonly KitItem[]) => kit.reduce((sum, item) => sum + item.mass_kg * item.count, 0);

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
                {item.batch_count} weighed together showed {formatMass(item.batch_mass_kg, units)} on a scale
                that steps by {formatMass(item.scale_resolution_kg, units)}
              </TableCell>
              <TableCell align="right" sx={{ fontWeight: 600, fontSize: "1.15rem" }}>
                {formatMass(item.mass_kg * item.count, units)}
              </TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
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
