/** A button that asks for a file; the same file can be chosen again after it was put right. */
import { Button, type ButtonProps } from "@mui/material";
import { useRef, type ReactNode } from "react";

interface Props {
  accept: string;
  disabled?: boolean;
  /** For photographs: the camera of a tablet. */
  camera?: boolean;
  onFile: (file: File) => void;
  look?: Pick<ButtonProps, "variant" | "size" | "sx">;
  children: ReactNode;
}

export function FileButton({ accept, disabled = false, camera = false, onFile, look, children }: Props) {
  const field = useRef<HTMLInputElement>(null);
  return (
    <>
      <Button disabled={disabled} onClick={() => field.current?.click()} {...look}>
        {children}
      </Button>
      <input
        ref={field}
        type="file"
        accept={accept}
        {...(camera ? { capture: "environment" as const } : {})}
        hidden
        onChange={(event) => {
          const file = event.target.files?.[0];
          if (file) onFile(file);
          event.target.value = "";
        }}
      />
    </>
  );
}
