/** Hands a file out to whoever sits in front of the page. */
export function saveFile(content: Blob, name: string): void {
  const address = URL.createObjectURL(content);
  const link = Object.assign(document.createElement('a'), { href: address, download: name });
  link.click();
  // The browser has taken it up once the click is over.
  setTimeout(() => URL.revokeObjectURL(address), 1000);
}
