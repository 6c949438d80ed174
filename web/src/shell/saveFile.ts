/** Have the browser keep a text, or anything else, as a file. */
export function saveFile(name: string, content: string | Blob) {
  const kept =
    typeof content === "string" ? new Blob([content], { type: "text/plain;charset=utf-8" }) : content;
  const url = URL.createObjectURL(kept);
  const link = document.createElement("a");
  link.href = url;
  link.download = name;
  link.click();
  URL.revokeObjectURL(url);
}
