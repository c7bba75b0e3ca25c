import { Button, type ButtonProps } from "@mui/material";
import { useRef } from "react";

interface Props extends Omit<ButtonProps, "onClick"> {
  /** What the files are, for who does not see the button. */
  files: string;
  accept?: string;
  multiple?: boolean;
  onFiles: (files: File[]) => void;
}

/** A button that asks for files; the same file can be chosen again. */
export function FileButton({ files, accept, multiple, onFiles, children, ...look }: Props) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <Button variant="outlined" {...look} onClick={() => input.current?.click()}>
        {children}
      </Button>
      <input
        ref={input}
        type="file"
        hidden
        aria-label={files}
        accept={accept}
        multiple={multiple}
        onChange={({ target }) => {
          onFiles([...(target.files ?? [])]);
          target.value = "";
        }}
      />
    </>
  );
}
