import { answer, api, newKey, writeHeaders } from "./client";

const LONGEST_SIDE = 1600;
const QUALITY = 0.85;

/** Send a photograph of an attempt; sent again with the same key it is kept once. */
export function sendPhoto(printId: number, photo: Blob, key = newKey(), note = "") {
  return answer(
    api.POST("/api/v1/prints/{print_id}/photos", {
      params: { path: { print_id: printId }, query: { note }, header: writeHeaders(undefined, key) },
      body: photo as unknown as string,
      bodySerializer: (content) => content as unknown as Blob,
      headers: { "Content-Type": "application/octet-stream" },
    }),
  );
}

/** A photograph as small as the workshop keeps it, as text that this browser can put aside; null for what is no picture. */
export async function keptPhoto(file: Blob): Promise<string | null> {
  try {
    const picture = await createImageBitmap(file);
    const scale = Math.min(1, LONGEST_SIDE / Math.max(picture.width, picture.height));
    const canvas = document.createElement("canvas");
    canvas.width = Math.round(picture.width * scale);
    canvas.height = Math.round(picture.height * scale);
    canvas.getContext("2d")?.drawImage(picture, 0, 0, canvas.width, canvas.height);
    return canvas.toDataURL("image/jpeg", QUALITY);
  } catch {
    return null;
  }
}

/** The photograph that was put aside as text. */
export function photoOf(kept: string): Blob {
  const letters = atob(kept.slice(kept.indexOf(",") + 1));
  return new Blob([Uint8Array.from(letters, (letter) => letter.charCodeAt(0))], { type: "image/jpeg" });
}
