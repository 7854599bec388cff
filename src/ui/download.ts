/** Gives text to the seller as a file. @param type media type; CSV begins with a mark by which spreadsheets know UTF-8 */
export function download(name: string, text: string, type = 'text/csv;charset=utf-8'): void {
  const mark = type.startsWith('text/csv') && !text.startsWith('\uFEFF') ? '\uFEFF' : '';
  downloadFile(name, new Blob([mark + text], { type }));
}

/** Gives a file to the seller. */
export function downloadFile(name: string, file: Blob): void {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(file);
  link.download = name;
  link.click();
  URL.revokeObjectURL(link.href);
}
