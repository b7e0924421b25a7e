/** Sends the browser for a file, which it keeps instead of showing it. */
export function follow(url: string): void {
  const a = document.createElement('a');
  a.href = url;
  a.download = '';
  a.click();
}

/** Hands the user a file that the page made. */
export function give(bytes: BlobPart, type: string, name: string): void {
  const url = URL.createObjectURL(new Blob([bytes], { type }));
  const a = document.createElement('a');
  a.href = url;
  a.download = name;
  a.click();
  // a browser may take its time to begin
  setTimeout(() => URL.revokeObjectURL(url), 10_000);
}
