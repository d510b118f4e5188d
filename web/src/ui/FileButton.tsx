/** A button that lets a person choose a file and hands its bytes on, as base64 text. */
import { useRef } from "react";
import { fileText } from "./files";
import { Button } from "./parts";

export function FileButton({
  text,
  accept,
  onFile,
}: {
  text: string;
  accept: string;
  onFile: (name: string, content: string) => void;
}) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <Button onClick={() => input.current?.click()}>{text}</Button>
      <input
        ref={input}
        type="file"
        accept={accept}
        hidden
        onChange={(event) => {
          const file = event.target.files?.[0];
          event.target.value = "";
          if (file) void fileText(file).then((content) => onFile(file.name, content));
        }}
      />
    </>
  );
}
