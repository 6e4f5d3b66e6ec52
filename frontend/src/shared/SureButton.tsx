/** A button for what cannot be taken back: it asks once more in its own words before it acts. */
import { Button } from "@mui/material";
import { useState } from "react";

interface Props {
  says: string;
  sure: string;
  onSure: () => void;
}

export function SureButton({ says, sure, onSure }: Props) {
  const [asked, setAsked] = useState(false);
  return (
    <Button size="small" sx={{ ml: 1 }} onClick={() => (asked ? onSure() : setAsked(true))}>
      {asked ? sure : says}
    </Button>
  );
}
