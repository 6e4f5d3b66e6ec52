/** The kit of this run: the load and how far it goes, and what the class needs and has to buy. */
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
import { useRunPlan, whyOfRun } from "../../api/queries";
import type { KitItem } from "../../api/types";
import { assumeUnit } from "../../shared/assumeUnit";
import { formatMass, formatMassWithDoubt } from "../../shared/format";
import { Failed, Loading, Notice, sentenceOf } from "../../shared/states";
import { ink } from "../../shared/theme";
import { useUnits } from "../../shared/units";
import { WhyNumber } from "../../shared/Why";
import { KitItemDrawing } from "../../drawing/KitItemDrawing";
import { useRunState } from "../run";
import { ForgottenLoad } from "./ForgottenLoad";
import { PrintLinks } from "./PrintLinks";

/** Whether the cup takes what it should: how many objects of each kind fit, and what they weigh. */
function CupFits() {
  const { run } = useRunState().state;
  const units = useUnits();
  const [size, setSize] = useState({ diameter: "", height: "" });
  const fit = useMutation({
    mutationFn: (body: typeof size) =>
      answered(api.POST("/api/runs/{id}/container", { params: { path: { id: run.id } }, body })),
  });
  return (
    <Box
      component="form"
      sx={{ mt: 3 }}
      onSubmit={(event) => {
        event.preventDefault();
        const meant = {
          diameter: assumeUnit(size.diameter, "length", units),
          height: assumeUnit(size.height, "length", units),
        };
        setSize(meant);
        fit.mutate(meant);
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
      {fit.data?.map((fill) => {
        const item = run.kit.find((entry) => entry.key === fill.item);
        return (
          <Typography key={fill.item} sx={{ mt: 0.75 }}>
            About <b>{fill.count}</b> × {item?.name}, level with the rim: {formatMass(fill.mass_kg, units)}.
          </Typography>
        );
      })}
      <Typography variant="body2" sx={{ color: ink.soft, mt: 0.5 }}>
        For loosely poured objects of one kind, six tenths of the room; a wedged pile takes fewer.
      </Typography>
    </Box>
  );
}

/** Numbered unlike objects are one line: how many, and from what to what they weigh. */
function LoadRows({ run, kit }: { run: number; kit: readonly KitItem[] }) {
  const units = useUnits();
  const numbered = kit.filter((item) => item.order > 0);
  const masses = numbered.map((item) => item.mass_kg);
  const known = (item: KitItem): string => {
    switch (item.known_by) {
      case "coin":
        return "a published coin";
      case "typed":
        return "stated; weigh a batch to know better";
      default:
        return `${item.batch_count === 1 ? "one alone" : `${item.batch_count} weighed together`} showed ${formatMass(item.batch_mass_kg, units)} on a scale that steps by ${formatMass(item.scale_resolution_kg, units)}`;
    }
  };
  const big = { fontSize: "1.15rem" } as const;
  return (
    <TableBody>
      {kit
        .filter((item) => item.order === 0)
        .map((item) => (
          <TableRow key={item.key}>
            <TableCell sx={{ width: 70 }}>
              <KitItemDrawing item={item} />
            </TableCell>
            <TableCell sx={{ fontWeight: 600, ...big }}>{item.name}</TableCell>
            <TableCell align="right" sx={big}>
              {item.count}
            </TableCell>
            <TableCell align="right" sx={big}>
              <WhyNumber why={whyOfRun(run, "item", item.key)}>
                {formatMassWithDoubt(item.mass_kg, item.mass_doubt_kg, units)}
              </WhyNumber>
            </TableCell>
            <TableCell sx={{ color: ink.soft }}>{known(item)}</TableCell>
            <TableCell align="right" sx={{ fontWeight: 600, ...big }}>
              {formatMass(item.mass_kg * item.count, units)}
            </TableCell>
          </TableRow>
        ))}
      {numbered[0] && (
        <TableRow>
          <TableCell sx={{ width: 70 }}>
            <KitItemDrawing item={numbered[0]} />
          </TableCell>
          <TableCell sx={{ fontWeight: 600, ...big }}>
            {numbered[0].name} to {numbered.length}
          </TableCell>
          <TableCell align="right" sx={big}>
            {numbered.length}
          </TableCell>
          <TableCell align="right" sx={big}>
            {formatMass(Math.min(...masses), units)} to {formatMass(Math.max(...masses), units)}
          </TableCell>
          <TableCell sx={{ color: ink.soft }}>
            each weighed and numbered; every team loads them in this order
          </TableCell>
          <TableCell align="right" sx={{ fontWeight: 600, ...big }}>
            {formatMass(
              masses.reduce((sum, mass) => sum + mass, 0),
              units,
            )}
          </TableCell>
        </TableRow>
      )}
    </TableBody>
  );
}

const amount = (value: number) => (value === 0 ? "–" : String(Number(value.toFixed(2))));

export default function KitPage() {
  const { run } = useRunState().state;
  const plan = useRunPlan(run.id);
  const units = useUnits();
  if (plan.isPending) return <Loading what="the kit" />;
  if (!plan.data) return <Failed error={plan.error} retry={() => void plan.refetch()} />;
  const { cover, kit_list, cautions } = plan.data;
  return (
    <Box sx={{ pt: 3 }}>
      <Typography variant="h1">
        {cover ? (
          <>
            <WhyNumber why={whyOfRun(run.id, "kit")}>{formatMass(cover.total_kg, units)}</WhyNumber> of load
            on one bench.
          </>
        ) : (
          "What has to be on the tables."
        )}
      </Typography>
      {cover && (
        <Typography sx={{ color: cover.enough ? ink.held : ink.watch, fontWeight: 600, mt: 0.5 }}>
          {cover.sentence} What outlasts all of it counts as “at least” this much.{" "}
          {cover.chance !== null && (
            <>
              <WhyNumber why={whyOfRun(run.id, "outlast")}>Why this number?</WhyNumber>{" "}
              <WhyNumber why={whyOfRun(run.id, "lasts")}>What would last?</WhyNumber>
            </>
          )}
        </Typography>
      )}
      {cover?.coarse && (
        <Typography sx={{ color: ink.watch, fontWeight: 600, mt: 0.5 }}>{cover.coarse}</Typography>
      )}
      <Box sx={{ maxWidth: 1100, mt: 2 }}>
        {run.kit.length > 0 && (
          <>
            <Box sx={{ overflowX: "auto" }}>
              <Table>
                <TableHead>
                  <TableRow>
                    <TableCell>Load</TableCell>
                    <TableCell component="td" />
                    <TableCell align="right">In the kit</TableCell>
                    <TableCell align="right">One weighs</TableCell>
                    <TableCell>How that is known</TableCell>
                    <TableCell align="right">Together</TableCell>
                  </TableRow>
                </TableHead>
                <LoadRows run={run.id} kit={run.kit} />
              </Table>
            </Box>
            <ForgottenLoad />
            <CupFits />
          </>
        )}
        {kit_list.length > 0 && (
          <>
            <Typography variant="h2" sx={{ mt: 4, mb: 1 }}>
              For the class
            </Typography>
            <Box sx={{ overflowX: "auto" }}>
              <Table>
                <TableHead>
                  <TableRow>
                    <TableCell>What</TableCell>
                    <TableCell align="right">Each team: final</TableCell>
                    <TableCell align="right">practice</TableCell>
                    <TableCell align="right">All benches</TableCell>
                    <TableCell align="right">Spares</TableCell>
                    <TableCell align="right">Needed</TableCell>
                    <TableCell align="right">There</TableCell>
                    <TableCell align="right">To buy</TableCell>
                  </TableRow>
                </TableHead>
                <TableBody>
                  {kit_list.map((line, i) => (
                    <TableRow key={line.name}>
                      <TableCell sx={{ fontWeight: 600, fontSize: "1.15rem" }}>{line.name}</TableCell>
                      <TableCell align="right">{amount(line.per_team_final)}</TableCell>
                      <TableCell align="right">{amount(line.per_team_practice)}</TableCell>
                      <TableCell align="right">{amount(line.benches)}</TableCell>
                      <TableCell align="right">{amount(line.spares)}</TableCell>
                      <TableCell align="right" sx={{ fontWeight: 600, fontSize: "1.15rem" }}>
                        <WhyNumber why={whyOfRun(run.id, `line.${i}`)}>{line.needed_words}</WhyNumber>
                      </TableCell>
                      <TableCell align="right">{amount(line.owned)}</TableCell>
                      <TableCell align="right" sx={{ fontWeight: 700, fontSize: "1.15rem" }}>
                        {line.packs > 0 ? (
                          <WhyNumber why={whyOfRun(run.id, `packs.${i}`)}>{line.buy_words}</WhyNumber>
                        ) : (
                          line.buy_words
                        )}
                      </TableCell>
                    </TableRow>
                  ))}
                </TableBody>
              </Table>
            </Box>
          </>
        )}
        <PrintLinks base={`/api/runs/${run.id}`} loaded={run.kit.length > 0} />
        {cautions
          .filter((caution) => caution.stages.includes("kit"))
          .map((caution) => (
            <Typography key={caution.key} variant="body2" sx={{ mt: 1.5 }}>
              <b>{caution.title}.</b> {caution.text}
            </Typography>
          ))}
      </Box>
    </Box>
  );
}
