/** A newer version of the interface is there: said at the edge, taken when somebody says so. */
import { Box, Button, Typography } from "@mui/material";
import { takeNewVersion, useNewVersion } from "./newVersion";
import { ink } from "./theme";

export function NewVersionNote() {
  const standing = useNewVersion();
  if (standing === "none") return null;
  return (
    <Box
      role="status"
      sx={{
        position: "fixed",
        right: 16,
        bottom: 16,
        zIndex: 8,
        maxWidth: "calc(100vw - 32px)",
        display: "flex",
        gap: 2,
        alignItems: "center",
        flexWrap: "wrap",
        bgcolor: ink.sheet,
        border: `2px solid ${ink.ink}`,
        px: 2,
        py: 1,
        "@media print": { display: "none" },
      }}
    >
      <Typography>
        {standing === "later"
          ? "A newer Even Girder is here, for after this test."
          : "A newer Even Girder is here."}
      </Typography>
      {standing !== "later" && (
        <Button variant="outlined" size="small" disabled={standing === "taking"} onClick={takeNewVersion}>
          {standing === "taking" ? "Opening it" : "Take it now"}
        </Button>
      )}
    </Box>
  );
}
