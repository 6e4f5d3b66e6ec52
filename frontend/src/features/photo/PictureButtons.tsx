/** A picture from the camera, or one that is there already. */
import { Box } from "@mui/material";
import { FileButton } from "../../shared/FileButton";

const PICTURES = "image/jpeg,image/png,image/webp";

interface Props {
  take: string;
  /** Whether enough are there already: then taking one more is not what is next. */
  enough?: boolean;
  disabled: boolean;
  onFile: (file: File) => void;
}

export function PictureButtons({ take, enough = false, disabled, onFile }: Props) {
  return (
    <Box sx={{ display: "flex", flexWrap: "wrap", gap: 2, my: 2 }}>
      <FileButton
        accept={PICTURES}
        camera
        disabled={disabled}
        onFile={onFile}
        look={{ variant: enough ? "outlined" : "contained" }}
      >
        {take}
      </FileButton>
      <FileButton accept={PICTURES} disabled={disabled} onFile={onFile} look={{ variant: "outlined" }}>
        Choose one
      </FileButton>
    </Box>
  );
}
