/** Counting loose pieces in a picture: a dot on each, to be confirmed, and what that says beside the ledger. */
import { Box, Button, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import { useState } from "react";
import { NamedDialog } from "../../shared/NamedDialog";
import { Notice, sentenceOf } from "../../shared/states";
import { condensed, ink } from "../../shared/theme";
import { DotsField } from "./DotsField";
import { SPREAD } from "./standins";
import { TakePicture } from "./TakePicture";
import { useCount, type Count, type Thing } from "./useCount";

export interface CountProps {
  trialId: string;
  title: string;
  /** Load objects that may be counted; none where a measure of the bench asks. */
  items: readonly { key: string; name: string }[];
  /** The measure that asks; empty for load. */
  measure: string;
  /** Whether entries wait for the network: what the ledger has is not known then. */
  waiting: boolean;
  /** Takes what was counted: the sentence for the ledger, and it as a measurement would be typed. */
  onCounted: (said: { sentence: string; text: string }) => void;
  onClose: () => void;
}

const HOW =
  "Spread the pieces on a plain sheet, of another colour than theirs, so that they lie side by side: they may " +
  "touch, but none lies on another. Look at them from above, with all of them in the picture. No card is needed; " +
  "one that lies there is not counted.";

/** Which load object it is, and whether it was on the structure or is left. */
function What({
  items,
  thing,
  onThing,
}: Pick<CountProps, "items"> & { thing: Thing; onThing: (thing: Thing) => void }) {
  if (items.length === 0) return null;
  return (
    <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1.5, my: 1.5 }}>
      {items.length > 1 && (
        <ToggleButtonGroup
          exclusive
          size="small"
          aria-label="What is counted"
          value={thing.item}
          onChange={(_, item: string | null) => item !== null && onThing({ ...thing, item })}
        >
          {items.map(({ key, name }) => (
            <ToggleButton key={key} value={key}>
              {name}
            </ToggleButton>
          ))}
        </ToggleButtonGroup>
      )}
      <ToggleButtonGroup
        exclusive
        size="small"
        aria-label="What lies there"
        value={thing.lay}
        onChange={(_, lay: Thing["lay"] | null) => lay !== null && onThing({ ...thing, lay })}
      >
        <ToggleButton value="on">was on it</ToggleButton>
        <ToggleButton value="left">is left</ToggleButton>
      </ToggleButtonGroup>
    </Box>
  );
}

/** From dot to dot, and what is done to the chosen one. */
function DotKeys({ count }: { count: Count }) {
  const { dots, set, chosen, setChosen, shown } = count;
  if (!shown) return null;
  const doubtful = dots.flatMap((dot, i) => (dot.doubtful ? [i] : []));
  const next = doubtful.find((i) => i > chosen) ?? doubtful[0];
  const at = dots[chosen];
  const { width_px: width, height_px: height } = shown.loose;
  return (
    <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1, mt: 1 }}>
      {next !== undefined && (
        <Button size="small" variant="outlined" onClick={() => setChosen(next)}>
          Next to look at ({doubtful.length})
        </Button>
      )}
      {at?.doubtful && (
        <Button
          size="small"
          variant="outlined"
          onClick={() =>
            set(
              dots.map((dot, i) => (i === chosen ? { ...dot, doubtful: false } : dot)),
              chosen,
            )
          }
        >
          It is one
        </Button>
      )}
      {at && (
        <Button
          size="small"
          variant="outlined"
          onClick={() =>
            set(
              dots.filter((_, i) => i !== chosen),
              -1,
            )
          }
        >
          It is none
        </Button>
      )}
      <Button
        size="small"
        onClick={() => set([...dots, { at: [width / 2, height / 2], doubtful: false }], dots.length)}
      >
        One more dot
      </Button>
      <Button size="small" disabled={dots.length === 0} onClick={() => setChosen((chosen + 1) % dots.length)}>
        Next dot
      </Button>
    </Box>
  );
}

function Keep({ count, waiting, measure, onCounted }: CountProps & { count: Count }) {
  const { keep, says, dots } = count;
  const open = dots.some((dot) => dot.doubtful);
  const said = says.isError || says.isPlaceholderData ? undefined : says.data;
  const wanted = measure === "" ? "Note it in the ledger" : "Keep it";
  const stops = open
    ? "Look at the dashed ones first: say of each that it is one, or that it is none."
    : waiting
      ? "Entries still wait for the network, so it is not known yet what the ledger has."
      : "";
  return (
    <Box sx={{ mt: 2 }}>
      {stops && <Typography sx={{ color: ink.watch }}>{stops}</Typography>}
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1.5, my: 1 }}>
        <Button
          variant="contained"
          disabled={!said || stops !== "" || keep.isPending || dots.length === 0}
          onClick={() => keep.mutate(undefined, { onSuccess: onCounted })}
        >
          {keep.isPending ? "Keeping it" : wanted}
        </Button>
        <Button disabled={keep.isPending} onClick={count.drop}>
          Another picture
        </Button>
      </Box>
      {keep.isError && (
        <Notice kind="problem">
          {sentenceOf(keep.error)}
          {said && (
            <Button size="small" variant="outlined" sx={{ ml: 2 }} onClick={() => onCounted(said)}>
              {wanted} without the picture
            </Button>
          )}
        </Notice>
      )}
      <Typography variant="body2" sx={{ color: ink.soft }}>
        The picture with its dots is kept with the design, made small. Faces are not looked for: see yourself
        that there is none in it.
      </Typography>
    </Box>
  );
}

/** The picture with its dots, and beside it what they come to. */
function Counted({
  count,
  thing,
  onThing,
  ...props
}: CountProps & { count: Count; thing: Thing; onThing: (thing: Thing) => void }) {
  const { shown, dots, set, chosen, setChosen, radius, says } = count;
  if (!shown) return null;
  return (
    <Box
      sx={{
        display: "grid",
        gap: 3,
        gridTemplateColumns: { xs: "minmax(0, 1fr)", md: "minmax(0, 1fr) 350px" },
      }}
    >
      <DotsField
        url={shown.url}
        width={shown.loose.width_px}
        height={shown.loose.height_px}
        dots={dots}
        radius={radius}
        chosen={chosen}
        onChoose={setChosen}
        onDots={set}
      />
      <Box>
        <Typography
          data-testid="counted"
          aria-live="polite"
          sx={{ fontFamily: condensed, fontWeight: 700, fontSize: "3rem", lineHeight: 1.1 }}
        >
          {dots.length}
        </Typography>
        <What items={props.items} thing={thing} onThing={onThing} />
        {shown.loose.notes.map((note) => (
          <Notice key={note} kind="caution">
            {note}
          </Notice>
        ))}
        <Box aria-live="polite">
          {says.isError && <Notice kind="problem">{sentenceOf(says.error)}</Notice>}
          {says.data && !says.isError && (
            <Notice kind={says.data.agrees ? "done" : "caution"}>{says.data.sentence}</Notice>
          )}
        </Box>
        <Typography variant="body2" sx={{ color: ink.soft, mt: 1 }}>
          A dot on each piece. Touch one to take it away; touch a piece that has none to set it. By keyboard:
          Tab to the chosen dot, Delete, arrow keys.
        </Typography>
        <DotKeys count={count} />
        <Keep {...props} count={count} />
      </Box>
    </Box>
  );
}

export default function CountDialog(props: CountProps) {
  const { trialId, title, items, measure, onClose } = props;
  const [thing, setThing] = useState<Thing>({ item: items[0]?.key ?? "", lay: "on", key: measure });
  const count = useCount(trialId, thing);
  return (
    <NamedDialog open onClose={onClose} fullScreen name={`${title}, counted in a picture`}>
      <Box sx={{ p: { xs: 2, md: 3 }, maxWidth: 1500, width: "100%", mx: "auto" }}>
        <Box sx={{ display: "flex", alignItems: "baseline", gap: 2, mb: 1.5 }}>
          <Typography variant="h2" component="h1">
            {title}, counted in a picture
          </Typography>
          <Button sx={{ ml: "auto" }} onClick={onClose}>
            Close
          </Button>
        </Box>
        {count.shown ? (
          <Counted {...props} count={count} thing={thing} onThing={setThing} />
        ) : (
          <TakePicture
            look={count.look}
            says={HOW}
            standins={SPREAD}
            cards={false}
            seeks="The pieces are being looked for …"
          />
        )}
      </Box>
    </NamedDialog>
  );
}
