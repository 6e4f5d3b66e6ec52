/** Following a point from picture to picture at the bench: how far it came down, or leaned, since nothing was on it. */
import { Box, Button, Typography } from "@mui/material";
import type { BenchMeasure, PictureLook } from "../../api/types";
import { formatMass } from "../../shared/format";
import { NamedDialog } from "../../shared/NamedDialog";
import { Notice, sentenceOf } from "../../shared/states";
import { condensed, ink } from "../../shared/theme";
import { useUnits } from "../../shared/units";
import { MotionChart } from "./MotionChart";
import { PictureField } from "./PictureField";
import { oneOutline } from "./points";
import { PlaneField } from "./PlaneField";
import type { Point } from "./points";
import type { Eye } from "./eye";
import { SetOfCards } from "./SetOfCards";
import { LOADED, UNLOADED } from "./standins";
import { StandingCamera } from "./StandingCamera";
import { TakePicture } from "./TakePicture";
import { useFollow, type Following } from "./useFollow";
import { WatchButton } from "./WatchButton";
import { whole } from "./whole";

export interface FollowProps {
  trialId: string;
  measure: BenchMeasure;
  team: string;
  loadKg: number;
  /** Takes what was found as it would have been typed. */
  onTaken: (texts: { text: string; resolution: string; source: string }) => void;
  /** Goes on watching through this eye at the bench. */
  onWatch: (eye: Eye) => void;
  onClose: () => void;
}

const FIRST =
  "The first picture, with nothing on it: later ones are held against it. Let the tablet stand on something, so that " +
  "it looks the same way each time. A scale card stands upright in the plane of what you follow and stays where it " +
  "is. Stick a dot, or draw a small cross, where you want to see the motion.";
const NEXT =
  "The picture under this load, from where the tablet stands. Nobody reaches under or beside what is loaded: take " +
  "it from where you are.";

/** A picture with the point in it where it is now. */
function Seen({ url, look, at }: { url: string; look: PictureLook; at: Point }) {
  const { width_px: width, height_px: height } = look.frame;
  const r = width / 60;
  return (
    <Box
      component="svg"
      viewBox={`0 0 ${width} ${height}`}
      role="img"
      aria-label="The picture, with the point that is followed"
      sx={{
        ...whole(width, height),
        bgcolor: ink.ink,
      }}
    >
      <image href={url} width={width} height={height} preserveAspectRatio="none" />
      <g fill="none">
        <circle cx={at[0]} cy={at[1]} r={r} stroke={ink.sheet} strokeWidth={r / 3} />
        <circle cx={at[0]} cy={at[1]} r={r} stroke={ink.oxide} strokeWidth={r / 6} />
      </g>
    </Box>
  );
}

function Pair({ picture, children }: { picture: React.ReactNode; children: React.ReactNode }) {
  return (
    <Box
      sx={{
        display: "grid",
        gap: 3,
        gridTemplateColumns: { xs: "minmax(0, 1fr)", md: "minmax(0, 1fr) 400px" },
      }}
    >
      {picture}
      <Box>{children}</Box>
    </Box>
  );
}

/** The first picture: where the point is, and in which plane. */
function Beginning({ following }: { following: Following }) {
  const { first, begin, change, anew } = following;
  if (!first) return null;
  return (
    <Pair
      picture={
        <PictureField
          url={first.url}
          look={first.look}
          shape={oneOutline([first.point])}
          names={["The point that is followed"]}
          closed={false}
          chosen={0}
          onChoose={() => undefined}
          onMove={({ points: [point] }) => point && change({ point })}
        />
      }
    >
      <Typography variant="h2">What is followed?</Typography>
      <Typography>
        Move the ring onto the dot or the cross. By keyboard: Tab to it, arrow keys, with Shift ten times as
        far.
      </Typography>
      <PlaneField
        asks="Where is it? What is nearer to the camera than the card moves more in its picture."
        where={first.where}
        onWhere={(where) => change({ where })}
      />
      {first.look.notes.map((note) => (
        <Notice key={note} kind="caution">
          {note}
        </Notice>
      ))}
      <SetOfCards look={first.look} onMeasured={() => undefined} />
      <Box sx={{ display: "flex", gap: 1.5, mt: 2 }}>
        <Button variant="contained" disabled={begin.isPending} onClick={() => begin.mutate(first)}>
          {begin.isPending ? "Trying it" : "Follow this"}
        </Button>
        <Button disabled={begin.isPending} onClick={anew}>
          Another picture
        </Button>
      </Box>
      {begin.isError && <Notice kind="problem">{sentenceOf(begin.error)}</Notice>}
    </Pair>
  );
}

/** A later picture, or the way to it. */
function Under({
  following,
  trialId,
  measure,
  loadKg,
  onTaken,
  onWatch,
}: FollowProps & { following: Following }) {
  const { first, now, follow, anew, next } = following;
  const units = useUnits();
  if (!first) return null;
  if (!now)
    return (
      <Pair picture={<Seen url={first.url} look={first.look} at={first.point} />}>
        <Typography variant="h2">Under {formatMass(loadKg, units)}</Typography>
        <TakePicture look={follow} says={NEXT} standins={LOADED} cards={false} />
        <WatchButton set={first.look.set_number} onWatch={onWatch} />
        <Button sx={{ px: 0, mt: 1 }} onClick={anew}>
          A new first picture
        </Button>
        <MotionChart trialId={trialId} measure={measure.key} />
      </Pair>
    );
  const { went } = now;
  const [x = 0, y = 0] = went.at;
  return (
    <Pair picture={<Seen url={now.url} look={first.look} at={[x, y]} />}>
      <Typography
        data-testid="went"
        sx={{ fontFamily: condensed, fontWeight: 700, fontSize: "2.4rem", lineHeight: 1.1 }}
      >
        {went.told}
      </Typography>
      <Typography>
        {measure.label} under {formatMass(loadKg, units)}. {went.doubt}
      </Typography>
      {went.moved !== "" && <Notice kind="caution">{went.moved}</Notice>}
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1.5, mt: 2 }}>
        <Button
          variant="contained"
          onClick={() => onTaken({ text: went.text, resolution: went.step_text, source: "picture" })}
        >
          Keep as {measure.label.toLowerCase()}
        </Button>
        <Button onClick={next}>Another picture</Button>
      </Box>
      <Typography variant="body2" sx={{ color: ink.soft, mt: 2 }}>
        This picture is kept with the trial, made small, in place of the one before it: if the next load
        breaks it, it is the last that was seen. Faces are not looked for: see yourself that there is none in
        it.
      </Typography>
    </Pair>
  );
}

export default function FollowDialog(props: FollowProps) {
  const { trialId, measure, team, loadKg, onClose } = props;
  const units = useUnits();
  const following = useFollow(trialId, measure.key);
  const { first, seeking, look } = following;
  return (
    <NamedDialog open onClose={onClose} fullScreen name={`${measure.label}, in pictures`}>
      <Box sx={{ p: { xs: 2, md: 3 }, maxWidth: 1500, width: "100%", mx: "auto" }}>
        <Box sx={{ display: "flex", alignItems: "baseline", gap: 2, mb: 1.5 }}>
          <Typography variant="h2" component="h1">
            {measure.label} of {team}, in pictures
          </Typography>
          <Button sx={{ ml: "auto" }} onClick={onClose}>
            Close
          </Button>
        </Box>
        {!first && !seeking && loadKg > 0 && (
          <Notice kind="caution">
            {formatMass(loadKg, units)} is on it already. What you measure is then how far it goes from here
            on, not from the beginning.
          </Notice>
        )}
        {!first && !seeking && (
          <Box
            sx={{
              display: "grid",
              columnGap: 4,
              gridTemplateColumns: { xs: "minmax(0, 1fr)", md: "1fr 1fr" },
            }}
          >
            <TakePicture look={look} says={FIRST} standins={UNLOADED} />
            <StandingCamera
              busy={look.isPending}
              onShot={(file) => look.mutate({ file, confirmed: false })}
            />
          </Box>
        )}
        {first && !first.begun && <Beginning following={following} />}
        {first?.begun && <Under {...props} following={following} />}
      </Box>
    </NamedDialog>
  );
}
