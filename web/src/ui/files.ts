/** Files on their way to the server. */

/** The longer side to which a photo is brought, pixels: a plate's small print can still be read. */
const LONG_SIDE = 2200;
const QUALITY = 0.85;

export async function asBase64(file: Blob): Promise<string> {
  const bytes = new Uint8Array(await file.arrayBuffer());
  let text = "";
  for (let at = 0; at < bytes.length; at += 8192) text += String.fromCharCode(...bytes.subarray(at, at + 8192));
  return btoa(text);
}

/** A photo small enough to be sent, upright and without its marks; what this browser cannot open goes as it is. */
export async function shrunk(file: File): Promise<Blob> {
  if (!file.type.startsWith("image/")) return file;
  try {
    const picture = await createImageBitmap(file, { imageOrientation: "from-image" });
    const scale = Math.min(1, LONG_SIDE / Math.max(picture.width, picture.height));
    const canvas = document.createElement("canvas");
    canvas.width = Math.round(picture.width * scale);
    canvas.height = Math.round(picture.height * scale);
    canvas.getContext("2d")?.drawImage(picture, 0, 0, canvas.width, canvas.height);
    picture.close();
    const small = await new Promise<Blob | null>((done) => canvas.toBlob(done, "image/jpeg", QUALITY));
    return small && (scale < 1 || small.size < file.size) ? small : file;
  } catch {
    return file;
  }
}
