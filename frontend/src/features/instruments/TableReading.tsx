/** How a shaking table really shakes, held against the level that was agreed. Read, not kept. */
import { Box, Button, TextField, Typography } from "@mui/material";
import { NamedDialog } from "../../shared/NamedDialog";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answered, api } from "../../api/client";
import { Notice, sentenceOf } from "../../shared/states";
import { condensed, ink } from "../../shared/theme";

export interface ShakeLevel {
  number: number;
  frequency_hz: number;
  stroke_m: number;
}

export function TableReading({ levels }: { levels: readonly ShakeLevel[] }) {
  const [open, setOpen] = useState(false);
  const [number, setNumber] = useState(1);
  const level = levels.find((level) => level.number === number) ?? levels[0];
  const listed = useQuery({
    queryKey: ["instruments"],
    queryFn: () => answered(api.GET("/api/instruments")),
    enabled: open,
  });
  const read = useMutation({
    mutationFn: ({ address, frequency_hz, stroke_m }: ShakeLevel & { address: string }) =>
      answered(api.POST("/api/instruments/table", { body: { address, frequency_hz, stroke_m } })),
  });
  const fitting = (listed.data ?? []).filter((instrument) => instrument.kinds.includes("frequency"));
  const reading = read.data;
  if (!level) return null;
  return (
    <>
      <Button sx={{ px: 0, mt: 2, mr: 3 }} onClick={() => setOpen(true)}>
        Check the shaking table
      </Button>
      <NamedDialog open={open} onClose={() => setOpen(false)} name="Shaking table">
        <Box sx={{ p: 3, width: 480, maxWidth: "100vw" }}>
          <Typography variant="h2">The shaking table</Typography>
          <Typography sx={{ mb: 2 }}>
            Let it run without a tower, an accelerometer on its plate. It is listened to for three seconds and
            held against the level.
          </Typography>
          <TextField
            label="Level"
            select
            slotProps={{ select: { native: true } }}
            value={number}
            onChange={(event) => setNumber(Number(event.target.value))}
            sx={{ mb: 2, width: 240 }}
          >
            {levels.map((level) => (
              <option key={level.number} value={level.number}>
                {level.number}: {Number(level.frequency_hz.toPrecision(3))} Hz
              </option>
            ))}
          </TextField>
          <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1 }}>
            {fitting.map((instrument) => (
              <Button
                key={instrument.address}
                variant="outlined"
                disabled={read.isPending}
                onClick={() => read.mutate({ ...level, address: instrument.address })}
              >
                {instrument.name}
              </Button>
            ))}
          </Box>
          {read.isPending && <Typography sx={{ mt: 1.5, fontWeight: 600 }}>Listening …</Typography>}
          {read.isError && <Notice kind="problem">{sentenceOf(read.error)}</Notice>}
          {reading && (
            <Box sx={{ mt: 2 }}>
              <Typography
                sx={{
                  fontFamily: condensed,
                  fontWeight: 700,
                  fontSize: "2.2rem",
                  color: reading.as_agreed ? ink.held : ink.watch,
                }}
              >
                {reading.frequency_hz.toFixed(2)} Hz, {(reading.stroke_m * 1000).toFixed(0)} mm
              </Typography>
              <Typography>{reading.says}</Typography>
              <Typography sx={{ color: ink.soft }}>
                Peak acceleration {Number(reading.acceleration_m_s2.toPrecision(2))} m/s².
              </Typography>
            </Box>
          )}
        </Box>
      </NamedDialog>
    </>
  );
}
