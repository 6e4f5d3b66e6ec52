/** Read an instrument instead of typing: one that is plugged in, one at this browser, or a simulated one to practise. */
import { Box, Button, TextField, Typography } from "@mui/material";
import { NamedDialog } from "../../shared/NamedDialog";
import { useMutation, useQuery } from "@tanstack/react-query";
import { Fragment, useState } from "react";
import { answered, api } from "../../api/client";
import type { QuantityKind } from "../../api/types";
import { Notice, sentenceOf } from "../../shared/states";
import { ink } from "../../shared/theme";
import { browserHasPorts, listenHere } from "./browserPort";

const LISTEN_S = 3;

interface Props {
  kind: QuantityKind;
  label: string;
  /** Takes what it shows, as it would be typed, and the worth of its last digit. */
  onRead: (text: string, step: string) => void;
}

export function InstrumentButton({ kind, label, onRead }: Props) {
  const [open, setOpen] = useState(false);
  const [onIt, setOnIt] = useState("");
  // A simulated scale forgets; what lay on it when it was tared is kept here.
  const [taredWith, setTaredWith] = useState("");
  const listed = useQuery({
    queryKey: ["instruments"],
    queryFn: () => answered(api.GET("/api/instruments")),
    enabled: open,
  });
  const read = useMutation({
    mutationFn: async ({ address, tare = false }: { address: string | null; tare?: boolean }) => {
      if (address !== null)
        return answered(
          api.POST("/api/instruments/read", {
            body: { address, kind, lies_on_it: onIt, tared_with: taredWith, tare },
          }),
        );
      const lines = await listenHere(LISTEN_S);
      return answered(api.POST("/api/instruments/lines", { body: { kind, lines } }));
    },
    onSuccess: (weighed, { tare }) => {
      if (tare) setTaredWith(onIt);
      else if (weighed.settled) take(weighed);
    },
  });
  const take = (weighed: { text: string; step_text: string }) => {
    onRead(weighed.text, weighed.step_text);
    setOpen(false);
  };
  const fitting = (listed.data ?? []).filter((instrument) => instrument.kinds.includes(kind));
  const reading = read.data;
  return (
    <>
      <Button size="small" sx={{ px: 0 }} onClick={() => setOpen(true)}>
        {label}
      </Button>
      <NamedDialog open={open} onClose={() => setOpen(false)} name={label}>
        <Box sx={{ p: 3, width: 460, maxWidth: "100vw" }}>
          <Typography variant="h2">{label}</Typography>
          <Typography sx={{ mb: 1.5 }}>
            It is listened to for {LISTEN_S} seconds. Hands off meanwhile.
          </Typography>
          {browserHasPorts() && (
            <Button
              variant="outlined"
              disabled={read.isPending}
              onClick={() => read.mutate({ address: null })}
              sx={{ mb: 1 }}
            >
              One plugged in here
            </Button>
          )}
          {fitting.some((instrument) => instrument.simulated) && (
            <TextField
              label={kind === "mass" ? "For practice: what lies on it" : "For practice: how far it is"}
              placeholder={kind === "mass" ? "38.4 g" : "81 cm"}
              value={onIt}
              onChange={(event) => setOnIt(event.target.value)}
              sx={{ my: 1, width: 240, display: "block" }}
            />
          )}
          <Box sx={{ display: "grid", gridTemplateColumns: "auto auto 1fr", gap: 1, justifyItems: "start" }}>
            {fitting.map((instrument) => (
              <Fragment key={instrument.address}>
                <Button
                  variant="outlined"
                  disabled={read.isPending}
                  onClick={() => read.mutate({ address: instrument.address })}
                >
                  {instrument.name}
                </Button>
                {kind === "mass" ? (
                  <Button
                    aria-label={`Tare ${instrument.name}`}
                    disabled={read.isPending}
                    onClick={() => read.mutate({ address: instrument.address, tare: true })}
                  >
                    Tare
                  </Button>
                ) : (
                  <span />
                )}
                <span />
              </Fragment>
            ))}
          </Box>
          {reading && read.variables.tare && (
            <Notice kind="done">Set to nothing; it shows {reading.text}. Put it on, then read.</Notice>
          )}
          {!listed.isPending && fitting.length === 0 && !browserHasPorts() && (
            <Typography sx={{ color: ink.soft }}>
              Nothing for this is plugged in. Type what it shows.
            </Typography>
          )}
          {read.isPending && <Typography sx={{ mt: 1.5, fontWeight: 600 }}>Listening …</Typography>}
          {reading && !reading.settled && !read.variables.tare && (
            <Notice kind="caution">
              {reading.says}{" "}
              <Button size="small" variant="outlined" onClick={() => take(reading)}>
                Take {reading.text}
              </Button>
            </Notice>
          )}
          {read.isError && <Notice kind="problem">{sentenceOf(read.error)}</Notice>}
        </Box>
      </NamedDialog>
    </>
  );
}
