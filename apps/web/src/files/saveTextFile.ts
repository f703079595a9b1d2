/** Offers a text for download. Characters that file systems refuse are left out of the name. */
export function saveTextFile(name: string, type: string, text: string): void {
  const url = URL.createObjectURL(new Blob([text], { type: `${type};charset=utf-8` }));
  const link = document.createElement('a');
  link.href = url;
  link.download = name.replace(/[\\/:*?"<>|]+/g, ' ').trim();
  link.click();
  URL.revokeObjectURL(url);
}
