/** A large key at the foot of the bench: what it does, what follows, and its letter. */
import { Box } from "@mui/material";
import { condensed, ink } from "../../shared/theme";

const LOOK = {
  place: { bg: ink.oxide, fg: "#ffffff" },
  held: { bg: ink.held, fg: "#ffffff" },
  watch: { bg: ink.sheet, fg: ink.ink },
  went: { bg: ink.ink, fg: "#ffffff" },
  plain: { bg: "transparent", fg: ink.ink },
} as const;

/** A key: how it looks, what it says, and what it does. */
export interface KeySpec {
  look: keyof typeof LOOK;
  /** What the key is labelled with; "↵" is Enter. */
  letter: string;
  /** Another key that does the same. */
  also?: string;
  title: string;
  note?: string;
  onPress: () => void;
  disabled?: boolean;
  /** Why it cannot be pressed now; for who points at it or has it read out. */
  why?: string;
  grow?: number;
  small?: boolean;
}

export function KeyButton({
  look,
  letter,
  title,
  note,
  onPress,
  disabled = false,
  why = "",
  grow = 1,
  small = false,
}: KeySpec) {
  const { bg, fg } = LOOK[look];
  return (
    <Box
      component="button"
      type="button"
      aria-keyshortcuts={letter === "↵" ? "Enter" : letter}
      disabled={disabled}
      title={why || undefined}
      onClick={onPress}
      sx={{
        flex: `${grow} 1 0`,
        minWidth: small ? 96 : { xs: "calc(50% - 10px)", sm: 0 },
        minHeight: small ? 44 : { xs: 64, sm: 84 },
        "@media (max-height: 700px)": { minHeight: small ? 44 : 64 },
        display: "flex",
        justifyContent: "space-between",
        alignItems: small ? "center" : "flex-start",
        gap: 1,
        textAlign: "left",
        font: "inherit",
        cursor: disabled ? "default" : "pointer",
        color: disabled ? ink.soft : fg,
        bgcolor: disabled ? "transparent" : bg,
        border: `${small ? 2 : 3}px ${disabled ? "dashed" : "solid"} ${disabled ? ink.line : ink.ink}`,
        px: small ? 1.25 : { xs: 1.25, md: 2 },
        py: small ? 0.25 : 1,
      }}
    >
      <Box component="span" sx={{ minWidth: 0 }}>
        <Box
          component="span"
          sx={{
            display: "block",
            fontFamily: condensed,
            fontWeight: 700,
            fontSize: small ? { xs: "1.1rem", md: "1.2rem" } : { xs: "1.5rem", md: "2rem" },
            lineHeight: 1.15,
            whiteSpace: small ? "nowrap" : { xs: "normal", md: "nowrap" },
            overflow: "hidden",
            textOverflow: "ellipsis",
          }}
        >
          {title}
        </Box>
        {note && (
          <Box
            component="span"
            sx={{
              display: "block",
              fontSize: small ? "0.9rem" : "1.05rem",
              lineHeight: 1.2,
              whiteSpace: "nowrap",
              overflow: "hidden",
              textOverflow: "ellipsis",
            }}
          >
            {note}
          </Box>
        )}
      </Box>
      {letter !== "" && (
        <Box
          component="span"
          aria-hidden
          sx={{
            // A tablet in portrait has no keys to press, and needs the room for words.
            display: { xs: "none", md: "block" },
            border: "2px solid currentColor",
            px: 0.9,
            fontWeight: 700,
            fontSize: small ? "0.9rem" : "1.05rem",
            lineHeight: 1.5,
          }}
        >
          {letter}
        </Box>
      )}
    </Box>
  );
}
