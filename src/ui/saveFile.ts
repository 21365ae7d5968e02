/** Hands a file to the browser's downloads. */
export function saveFile(name: string, content: Blob): void {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(content);
  link.download = name;
  link.click();
  // The browser reads the address after the click; it is given back once that is surely done.
  setTimeout(() => URL.revokeObjectURL(link.href), 60_000);
}
