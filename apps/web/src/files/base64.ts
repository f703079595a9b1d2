const CHUNK = 0x8000;

/** Bytes as base64. Source: RFC 4648, section 4. */
export function toBase64(bytes: Uint8Array): string {
  let text = '';
  for (let from = 0; from < bytes.length; from += CHUNK)
    text += String.fromCharCode(...bytes.subarray(from, from + CHUNK));
  return btoa(text);
}

/** @throws DOMException where it is none. */
export const fromBase64 = (text: string): Uint8Array => Uint8Array.from(atob(text), (c) => c.charCodeAt(0));
