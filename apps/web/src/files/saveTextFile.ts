/** Offers a text for download. Characters that file systems refuse are left out of the name. */
export const saveTextFile = (name: string, type: string, text: string): void =>
  saveBlob(name, new Blob([text], { type: `${type};charset=utf-8` }));

/** Offers bytes for download. */
export const saveBytes = (name: string, type: string, bytes: Uint8Array<ArrayBuffer>): void =>
  saveBlob(name, new Blob([bytes], { type }));

/** Offers what was fetched for download. */
export function saveBlob(name: string, blob: Blob): void {
  const url = URL.createObjectURL(blob);
  const link = document.createElement('a');
  link.href = url;
  link.download = name.replace(/[\\/:*?"<>|]+/g, ' ').trim();
  link.click();
  URL.revokeObjectURL(url);
}
