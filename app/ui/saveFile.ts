/** Hands a file made here to the browser's downloads. */
export function saveFile(name: string, content: Blob): void {
  const url = URL.createObjectURL(content);
  const link = document.createElement("a");
  link.href = url;
  link.download = name.replace(/[\\/:*?"<>|\u0000-\u001f]+/g, "_");
  link.click();
  setTimeout(() => URL.revokeObjectURL(url), 10_000);
}
