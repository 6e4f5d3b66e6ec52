/** Teaches the bench a presenter's clicker or a foot switch: press it once, and from then on it goes on like Enter. */
import { Button, Typography, Box } from "@mui/material";
import { NamedDialog } from "../../shared/NamedDialog";
import { useEffect, useState } from "react";
import { learnClicker, useClicker } from "../../shared/clicker";
import { ink } from "../../shared/theme";

/** Keys that have a meaning of their own and are no clicker's. */
const OWN = ["Escape", "Tab", "Enter", " ", "Shift", "Control", "Alt", "Meta"];

export function ClickerControl() {
  const known = useClicker();
  const [asking, setAsking] = useState(false);
  useEffect(() => {
    if (!asking) return undefined;
    const learn = (event: KeyboardEvent) => {
      // Letters and figures are keys of the bench.
      if (OWN.includes(event.key) || event.key.length === 1) return;
      event.preventDefault();
      event.stopPropagation();
      learnClicker(event.key);
      setAsking(false);
    };
    window.addEventListener("keydown", learn, true);
    return () => window.removeEventListener("keydown", learn, true);
  }, [asking]);
  return (
    <>
      <Button size="small" onClick={() => setAsking(true)}>
        {known ? `Clicker: ${known} goes on` : "A clicker or foot switch?"}
      </Button>
      {asking && (
        <NamedDialog open onClose={() => setAsking(false)} name="A clicker or foot switch">
          <Box sx={{ p: 3, maxWidth: 420 }}>
            <Typography variant="h2">Press it once now.</Typography>
            <Typography sx={{ my: 1 }}>
              From then on it does what Enter does at the bench: the next step, then “it held”. It can go on
              by itself as often as it likes, it counts once.
            </Typography>
            <Typography variant="body2" sx={{ color: ink.soft }}>
              Letters and figures are keys of the bench and stay so. Most clickers send PageDown.
            </Typography>
            {known && (
              <Button
                variant="outlined"
                sx={{ mt: 1 }}
                onClick={() => {
                  learnClicker(null);
                  setAsking(false);
                }}
              >
                Forget {known}
              </Button>
            )}
            <Button sx={{ mt: 1 }} onClick={() => setAsking(false)}>
              Leave it
            </Button>
          </Box>
        </NamedDialog>
      )}
    </>
  );
}
