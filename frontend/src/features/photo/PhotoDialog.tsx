/** Measuring in a photo: the picture with its plane and the points, and beside it what they come to. */
import { Box, Button, Typography } from "@mui/material";
import { NamedDialog } from "../../shared/NamedDialog";
import { useState } from "react";
import { ApiError } from "../../api/client";
import { formatQuantity } from "../../shared/format";
import { Notice, sentenceOf } from "../../shared/states";
import { condensed, ink } from "../../shared/theme";
import { useUnits } from "../../shared/units";
import { PictureField } from "./PictureField";
import { PlaneField } from "./PlaneField";
import {
  moved,
  onEdge,
  outlineAt,
  withCorner,
  withOutline,
  withoutCorner,
  type Edge,
  type Point,
  type Shape,
} from "./points";
import { SetOfCards } from "./SetOfCards";
import { TakePicture } from "./TakePicture";
import { AREAS, TO_MEASURE } from "./standins";
import type { Measurable, Picture } from "./usePicture";

/** Keeping what was measured, and what stands in the way of that. */
export interface Keeping {
  mutate: (asked: { confirmed: boolean; again: boolean }) => void;
  isPending: boolean;
  isError: boolean;
  error: Error | null;
  variables: { confirmed: boolean; again: boolean } | undefined;
  reset: () => void;
}

interface Props {
  spec: Measurable;
  team: string;
  /** What the points are called; corners where they are several. */
  names: readonly string[];
  picture: Picture;
  keep: Keeping;
  /** Whether it may be added to a reading that is there. */
  again: boolean;
  onClose: () => void;
}

const WHERE_THE_CARD_GOES =
  "Put a scale card where you measure: standing beside it, lying under it, or stuck to the supports. It has to be " +
  "whole in the picture and lie in the plane of the edges that you measure. Stand back so that all of it is in the " +
  "picture, and look at it as squarely as you can.";
/** How far a point may be from an edge to go to it, as a share of the picture's width. */
const EDGE_REACH = 0.06;
const MOST_CORNERS = 60;

const pair = ([x = 0, y = 0]: readonly number[]): Point => [x, y];

/** What is pointed at comes to, how sure that is, and what would make it surer. */
function Came({ picture, spec }: { picture: Picture; spec: Measurable }) {
  const units = useUnits();
  const { data, error, isPending } = picture.size;
  if (error) return <Notice kind="problem">{sentenceOf(error)}</Notice>;
  if (isPending || !data) return <Typography sx={{ color: ink.soft }}>Working it out …</Typography>;
  return (
    <Box aria-live="polite">
      <Typography
        data-testid="photo-size"
        sx={{ fontFamily: condensed, fontWeight: 700, fontSize: "3rem", lineHeight: 1.1 }}
      >
        {spec.kind === "area" ? formatQuantity(data.value_si, "area", units) : data.text}
      </Typography>
      <Typography>{data.doubt}</Typography>
      {data.better && <Typography sx={{ color: ink.held, mt: 0.5 }}>{data.better}</Typography>}
    </Box>
  );
}

/** What can be done to the chosen point besides moving it. */
function PointKeys({
  picture,
  area,
  chosen,
  onChoose,
}: {
  picture: Picture;
  area: boolean;
  chosen: number;
  onChoose: (index: number) => void;
}) {
  const { shown, shape, setShape } = picture;
  const { points, outlines } = shape;
  const at = points[chosen];
  if (!shown || !at) return null;
  const { width_px: width, height_px: height } = shown.look.frame;
  const { first, count } = outlineAt(outlines, chosen);
  const last = count <= 3;
  const become = (next: Shape, choose: number) => {
    setShape(next);
    onChoose(choose);
  };
  const edges = shown.look.edges.map(([a = [], b = []]): Edge => [pair(a), pair(b)]);
  const edge = onEdge(edges, at, EDGE_REACH * width);
  return (
    <Box sx={{ display: "flex", flexWrap: "wrap", columnGap: 2, mt: 0.5 }}>
      <Button
        size="small"
        sx={{ px: 0 }}
        disabled={!edge}
        onClick={() => edge && setShape({ ...shape, points: moved(points, chosen, edge) })}
      >
        To the nearest edge
      </Button>
      {area && (
        <>
          <Button
            size="small"
            sx={{ px: 0 }}
            disabled={points.length >= MOST_CORNERS}
            onClick={() => become(withCorner(shape, chosen), chosen + 1)}
          >
            One more corner
          </Button>
          <Button
            size="small"
            sx={{ px: 0 }}
            disabled={last && outlines.length === 1}
            onClick={() => become(withoutCorner(shape, chosen), last ? 0 : Math.max(first, chosen - 1))}
          >
            {last && outlines.length > 1 ? "Take this outline away" : "Take this corner away"}
          </Button>
          <Button
            size="small"
            sx={{ px: 0 }}
            disabled={points.length > MOST_CORNERS - 4}
            onClick={() => become(withOutline(shape, width, height), points.length)}
          >
            One more outline
          </Button>
        </>
      )}
    </Box>
  );
}

/** Whether it is kept as the reading, and what stands in the way of that. */
function Keep({ picture, spec, keep, again }: Pick<Props, "picture" | "spec" | "keep" | "again">) {
  const { size } = picture;
  const ready = size.data !== undefined && !size.isError && !size.isPlaceholderData;
  const asks = keep.error instanceof ApiError && keep.error.confirm;
  return (
    <Box sx={{ mt: 2 }}>
      <Typography variant="body2" sx={{ color: ink.soft, mb: 1 }}>
        The picture is kept with the design, made small, without place and time. Faces are not looked for: see
        yourself that there is none in it.
      </Typography>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1.5 }}>
        <Button
          variant="contained"
          disabled={!ready || keep.isPending}
          onClick={() => keep.mutate({ confirmed: false, again: false })}
        >
          {keep.isPending ? "Keeping it" : `Keep as ${spec.label.toLowerCase()}`}
        </Button>
        {again && (
          <Button
            variant="outlined"
            disabled={!ready || keep.isPending}
            onClick={() => keep.mutate({ confirmed: false, again: true })}
          >
            Add to those before
          </Button>
        )}
        <Button
          disabled={keep.isPending}
          onClick={() => {
            picture.drop();
            keep.reset();
          }}
        >
          Another picture
        </Button>
      </Box>
      {keep.isError && (
        <Notice kind={asks ? "caution" : "problem"}>
          {sentenceOf(keep.error)}
          {asks && keep.variables && (
            <Button
              size="small"
              variant="outlined"
              sx={{ ml: 2 }}
              onClick={() => keep.mutate({ again: keep.variables?.again ?? false, confirmed: true })}
            >
              It is right
            </Button>
          )}
        </Notice>
      )}
    </Box>
  );
}

export function PhotoDialog({ spec, team, names, picture, keep, again, onClose }: Props) {
  const [chosen, setChosen] = useState(0);
  const { shown, shape } = picture;
  const area = spec.kind === "area";
  return (
    <NamedDialog open onClose={onClose} fullScreen name={`${spec.label} in a photo`}>
      <Box sx={{ p: { xs: 2, md: 3 }, maxWidth: 1500, width: "100%", mx: "auto" }}>
        <Box sx={{ display: "flex", alignItems: "baseline", gap: 2, mb: 1.5 }}>
          <Typography variant="h2" component="h1">
            {spec.label} of {team}, in a photo
          </Typography>
          <Button sx={{ ml: "auto" }} onClick={onClose}>
            Close
          </Button>
        </Box>
        {!shown ? (
          <TakePicture
            look={picture.look}
            says={WHERE_THE_CARD_GOES}
            standins={area ? AREAS : TO_MEASURE}
            lens
          />
        ) : (
          <Box
            sx={{
              display: "grid",
              gap: 3,
              gridTemplateColumns: { xs: "minmax(0, 1fr)", md: "minmax(0, 1fr) 350px" },
            }}
          >
            <PictureField
              url={shown.url}
              look={shown.look}
              shape={shape}
              names={names}
              closed={area}
              chosen={chosen}
              onChoose={setChosen}
              onMove={picture.setShape}
            />
            <Box>
              <Came picture={picture} spec={spec} />
              <Typography variant="body2" sx={{ color: ink.soft, mt: 1 }}>
                Move {area ? "the corners" : "both ends"} to where you measure; the glass shows it larger, and
                moves it finely. By keyboard: Tab to one, arrow keys, with Shift ten times as far.
                {area && " An outline within another is a hole in it; outlines apart add up."}
              </Typography>
              <PointKeys picture={picture} area={area} chosen={chosen} onChoose={setChosen} />
              <PlaneField
                asks="Where are the edges that you measure? What is nearer to the camera than the card looks larger."
                where={picture.where}
                onWhere={picture.setWhere}
              />
              {shown.look.notes.map((note) => (
                <Notice key={note} kind="caution">
                  {note}
                </Notice>
              ))}
              {shown.look.lens_known && (
                <Typography variant="body2" sx={{ color: ink.soft, mt: 1 }}>
                  This tablet’s lens is calibrated, and that counts here.
                </Typography>
              )}
              <SetOfCards look={shown.look} onMeasured={() => void picture.size.refetch()} />
              <Keep picture={picture} spec={spec} keep={keep} again={again} />
            </Box>
          </Box>
        )}
      </Box>
    </NamedDialog>
  );
}
