/** A chosen file as base64 text, as the server takes it. */
export async function fileText(file: Blob): Promise<string> {
  const bytes = new Uint8Array(await file.arrayBuffer());
  let text = "";
  for (let at = 0; at < bytes.length; at += 0x8000)
    text += String.fromCharCode(...bytes.subarray(at, at + 0x8000));
  return btoa(text);
}

/** A chosen text file: UTF-8, or Windows-1252 when it is not valid UTF-8. */
export async function textOf(file: Blob | undefined): Promise<string> {
  const bytes = await (file ?? new Blob()).arrayBuffer();
  try {
    return new TextDecoder("utf-8", { fatal: true }).decode(bytes);
  } catch {
    return new TextDecoder("windows-1252").decode(bytes);
  }
}
