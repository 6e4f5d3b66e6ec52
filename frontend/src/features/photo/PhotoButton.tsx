/** Measure in a photo instead of with a tape: the way to it, beside each length and area. */
import { Button } from "@mui/material";
import { lazy, Suspense, useState } from "react";
import type { Design, Reading, ReadingSpec } from "../../api/types";
import type { BenchPhotoProps } from "./BenchPhoto";

const ReadingPhoto = lazy(() => import("./ReadingPhoto"));
const BenchPhoto = lazy(() => import("./BenchPhoto"));

interface Props {
  design: Design;
  spec: ReadingSpec;
  reading: Reading | undefined;
  /** Takes the reading as it would have been typed. */
  onKept: (reading: Reading) => void;
}

export function PhotoButton({ design, spec, reading, onKept }: Props) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button
        sx={{ minWidth: 0, px: 0.5 }}
        aria-label={`Measure in a photo: ${spec.label.toLowerCase()}`}
        title="Measure in a photo"
        onClick={() => setOpen(true)}
      >
        Photo
      </Button>
      {open && (
        <Suspense>
          <ReadingPhoto
            design={design}
            spec={spec}
            reading={reading}
            onKept={onKept}
            onClose={() => setOpen(false)}
          />
        </Suspense>
      )}
    </>
  );
}

/** The same at the bench, in the panel that asks for a length. */
export function BenchPhotoButton(props: Omit<BenchPhotoProps, "onClose">) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button variant="outlined" onClick={() => setOpen(true)}>
        In a photo
      </Button>
      {open && (
        <Suspense>
          <BenchPhoto {...props} onClose={() => setOpen(false)} />
        </Suspense>
      )}
    </>
  );
}
