/** A tablet's lens, calibrated once: six pictures of a card, what they tell, and keeping that for all later pictures. */
import { Box, Button, Typography } from "@mui/material";
import { NamedDialog } from "../../shared/NamedDialog";
import { Notice, sentenceOf } from "../../shared/states";
import { ink } from "../../shared/theme";
import { PictureButtons } from "./PictureButtons";
import { FOR_LENS } from "./standins";
import { useLens, useLenses, type LensCalibration, type LensShown } from "./useLens";

/** A picture with the rim of the card that was found in it. */
function Taken({ picture, number, onDrop }: { picture: LensShown; number: number; onDrop: () => void }) {
  const { width_px: width, height_px: height } = picture.frame;
  return (
    <Box component="li" sx={{ listStyle: "none" }}>
      <Box sx={{ position: "relative", lineHeight: 0 }}>
        <Box component="img" src={picture.url} alt={`Picture ${number}`} sx={{ width: "100%" }} />
        <svg
          viewBox={`0 0 ${width} ${height}`}
          aria-hidden
          style={{ position: "absolute", inset: 0, width: "100%", height: "100%" }}
        >
          {picture.rims.map((rim, i) => (
            <polygon
              key={i}
              points={rim.map((point) => point.join(",")).join(" ")}
              fill="none"
              stroke={ink.held}
              strokeWidth={width / 60}
            />
          ))}
        </svg>
      </Box>
      <Box sx={{ display: "flex", alignItems: "center" }}>
        <Typography variant="body2">Picture {number}</Typography>
        <Button size="small" sx={{ ml: "auto" }} aria-label={`Leave out picture ${number}`} onClick={onDrop}>
          Leave out
        </Button>
      </Box>
    </Box>
  );
}

/** What the pictures tell so far. */
function Told({ lens }: { lens: LensCalibration }) {
  const { told, pictures } = lens;
  if (pictures.length === 0) return null;
  if (told.isError) return <Notice kind="problem">{sentenceOf(told.error)}</Notice>;
  if (!told.data) return null;
  const { told: said, wanted } = told.data;
  const well = said !== "" && wanted === "";
  return (
    <Typography sx={{ fontWeight: 600, ...(well && { color: ink.held }) }}>
      {[well && "Known well.", said, wanted].filter(Boolean).join(" ")}
    </Typography>
  );
}

/** Where the pictures come from. */
function More({ lens, busy, enough }: { lens: LensCalibration; busy: boolean; enough: boolean }) {
  const { add, made, pictures } = lens;
  return (
    <>
      <PictureButtons
        take={`Take picture ${pictures.length + 1}`}
        enough={enough}
        disabled={busy}
        onFile={(file) => add.mutate(file)}
      />
      {busy && (
        <Typography role="status" sx={{ fontWeight: 600 }}>
          {made.isPending
            ? `Picture ${pictures.length + 1} is being drawn …`
            : "The card is being looked for …"}
        </Typography>
      )}
      {[add, made].map(
        (one, i) =>
          one.isError &&
          !busy && (
            <Notice key={i} kind="problem">
              {sentenceOf(one.error)}
            </Notice>
          ),
      )}
      {pictures.length === 0 && !busy && (
        <Typography variant="body2" sx={{ color: ink.soft, mt: 2 }}>
          No camera at hand? Try it with{" "}
          <Button
            size="small"
            sx={{ p: 0, minWidth: 0, verticalAlign: "baseline" }}
            onClick={() => made.mutate()}
          >
            {FOR_LENS.length} made-up pictures
          </Button>
          : they tell the lens of the made-up tablet that all other made-up pictures were taken with.
        </Typography>
      )}
    </>
  );
}

export function LensDialog({ setNumber, onClose }: { setNumber: number; onClose: () => void }) {
  const lens = useLens(setNumber);
  const before = useLenses().data ?? [];
  const { pictures, add, made, told, keep, forget } = lens;
  const busy = add.isPending || made.isPending;
  const ready = !told.isError && !told.isPlaceholderData && (told.data?.told ?? "") !== "";
  return (
    <NamedDialog open onClose={onClose} maxWidth="md" fullWidth name="The lens of this tablet">
      <Box sx={{ p: { xs: 2, md: 3 } }}>
        <Typography variant="h2" component="h1" sx={{ mb: 1.5 }}>
          The lens of this tablet
        </Typography>
        <Typography sx={{ mb: 1 }}>
          Every lens bends straight lines a little. Once that is known of yours, what lies far from the card
          is known better in all its later pictures.
        </Typography>
        <Typography>
          Lay the standing card on something flat. Take six pictures of it, each so near that the card just
          fits: one from straight above, one from each of the four sides with the tablet tilted, and one with
          the card in a corner of the picture. Do not zoom.
        </Typography>
        <More lens={lens} busy={busy} enough={ready} />
        {pictures.length > 0 && (
          <Box
            component="ul"
            aria-label="Pictures"
            sx={{
              p: 0,
              my: 2,
              display: "grid",
              gap: 1.5,
              gridTemplateColumns: "repeat(auto-fill, minmax(124px, 1fr))",
            }}
          >
            {pictures.map((picture, i) => (
              <Taken
                key={picture.url}
                picture={picture}
                number={i + 1}
                onDrop={() => lens.drop(picture.url)}
              />
            ))}
          </Box>
        )}
        <Box aria-live="polite">
          <Told lens={lens} />
          {keep.isError && <Notice kind="problem">{sentenceOf(keep.error)}</Notice>}
          {forget.isError && <Notice kind="problem">{sentenceOf(forget.error)}</Notice>}
        </Box>
        {before.map((one) => (
          <Typography key={one.calibrated_at} variant="body2" sx={{ color: ink.soft, mt: 1 }}>
            Kept now{one.camera && `, of ${one.camera}`}: {one.told}
          </Typography>
        ))}
        <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1.5, mt: 2 }}>
          <Button
            variant="contained"
            disabled={!ready || busy || keep.isPending}
            onClick={() => keep.mutate(undefined, { onSuccess: onClose })}
          >
            Keep for this tablet
          </Button>
          {before.length > 0 && (
            <Button disabled={forget.isPending} onClick={() => forget.mutate()}>
              Forget what is kept
            </Button>
          )}
          <Button sx={{ ml: "auto" }} onClick={onClose}>
            Close
          </Button>
        </Box>
      </Box>
    </NamedDialog>
  );
}
