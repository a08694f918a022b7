/** Hands a file to the browser's downloads. */
export function download(content: Uint8Array | string, name: string, type = 'application/octet-stream'): void {
  const url = URL.createObjectURL(new Blob([content as BlobPart], { type }));
  const link = document.createElement('a');
  link.href = url;
  link.download = name;
  link.click();
  URL.revokeObjectURL(url);
}
