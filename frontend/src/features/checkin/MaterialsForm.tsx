/** Own weight added up from what went into the bridge: how much of each material, and a weighed batch of it. */
import { Box, Button, TextField, Typography } from "@mui/material";
import { useState } from "react";
import { ApiError, answered, api } from "../../api/client";
import type { Design } from "../../api/types";
import { assumeUnit } from "../../shared/assumeUnit";
import { useUnits } from "../../shared/units";
import { Notice, sentenceOf } from "../../shared/states";
import { newId } from "../../shared/newId";
import { readingsLine, useCheckInWrite } from "./useCheckInWrite";
import type { KeptReading } from "./whatIsKept";

type Added = Required<Pick<KeptReading, "uses" | "confirmed" | "sent_as">>;

/** A reading that was added up has no words of its own. */
const NOT_TYPED = { text: "", resolution_text: "", zero_text: "", tare_text: "" };

interface Use {
  name: string;
  amount: string;
  batch_amount: string;
  batch_mass: string;
  scale_resolution: string;
}

const BLANK: Use = { name: "", amount: "", batch_amount: "10", batch_mass: "", scale_resolution: "1 g" };

const COLUMNS: readonly [keyof Use, string, number][] = [
  ["name", "Material", 150],
  ["amount", "Used", 84],
  ["batch_amount", "Weighed", 84],
  ["batch_mass", "Scale showed", 118],
  ["scale_resolution", "Scale's step", 100],
];

/** Whether it is a number, or nothing yet. */
const isAmount = (typed: string): boolean => Number.isFinite(Number(typed));

const hasAmounts = (use: Use): boolean => isAmount(use.amount) && isAmount(use.batch_amount);

export function MaterialsForm({ design, onDone }: { design: Design; onDone: () => void }) {
  const units = useUnits();
  const [uses, setUses] = useState<Use[]>([
    { ...BLANK, name: "card, sheets" },
    { ...BLANK, name: "tape, cm", batch_amount: "100" },
  ]);
  const standing = design.readings.find((reading) => reading.key === "self_mass");
  const used = () =>
    uses
      .filter((use) => use.amount.trim() !== "")
      .map((use) => ({
        ...use,
        amount: Number(use.amount),
        batch_amount: Number(use.batch_amount),
        batch_mass: assumeUnit(use.batch_mass, "mass", units),
        scale_resolution: assumeUnit(use.scale_resolution, "mass", units),
      }));
  const write = useCheckInWrite<Added>(
    design,
    {
      send: (added, signal) =>
        answered(
          api.POST("/api/designs/{id}/self-mass-estimate", {
            params: { path: { id: design.id } },
            body: added,
            signal,
          }),
        ),
      keep: (added) => ({
        readings: [{ ...added, ...NOT_TYPED, key: "self_mass", again: false, stood: standing?.id ?? null }],
      }),
    },
    onDone,
    readingsLine(design),
  );
  const add = (confirmed: boolean) => write.mutate({ uses: used(), confirmed, sent_as: newId() });
  const asks = write.error instanceof ApiError && write.error.confirm;
  return (
    <Box
      component="form"
      sx={{ py: 1 }}
      onSubmit={(event) => {
        event.preventDefault();
        add(false);
      }}
    >
      <Typography sx={{ mb: 1 }}>
        For each material: how much is in the bridge, and how much of it was weighed together.
      </Typography>
      {uses.map((use, i) => (
        <Box key={i} sx={{ display: "flex", gap: 1, mb: 1 }}>
          {COLUMNS.map(([key, label, width]) => (
            <TextField
              key={key}
              label={label}
              value={use[key]}
              error={key.endsWith("amount") && !isAmount(use[key])}
              sx={{ width }}
              onChange={(e) =>
                setUses(uses.map((use, j) => (i === j ? { ...use, [key]: e.target.value } : use)))
              }
            />
          ))}
        </Box>
      ))}
      {write.isError && (
        <Notice kind={asks ? "caution" : "problem"}>
          {sentenceOf(write.error)}
          {asks && (
            <Button size="small" sx={{ ml: 2 }} onClick={() => add(true)}>
              It is right
            </Button>
          )}
        </Notice>
      )}
      <Button onClick={() => setUses([...uses, BLANK])}>Another material</Button>
      <Button
        type="submit"
        variant="contained"
        disabled={write.isPending || used().length === 0 || !uses.every(hasAmounts)}
      >
        Add it up
      </Button>
    </Box>
  );
}
