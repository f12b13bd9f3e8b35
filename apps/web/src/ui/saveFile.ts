/** Hands a file to the browser to be saved. */
export function saveFile(content: string | Uint8Array<ArrayBuffer> | Blob, fileName: string, type: string): void {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(content instanceof Blob ? content : new Blob([content], { type }));
  link.download = fileName;
  link.click();
  URL.revokeObjectURL(link.href);
}
