import { takesValue, valueBounds, type FunctionShape } from '../../gear';

/** The value nearest to one that a function takes; itself where it does. */
export function nearestTaken(shape: FunctionShape, value: number): number {
  if (takesValue(shape, value)) return value;
  const { min, max } = valueBounds(shape);
  for (let by = 1; by <= max - min + 1; by++)
    for (const near of [Math.min(max, value) - by + 1, Math.max(min, value) + by - 1])
      if (takesValue(shape, near)) return near;
  return min;
}

/**
 * An identifier made from a text: the same text gives the same one, so that what is proposed twice is one thing.
 * Shape: a UUID of version 8 (RFC 9562). The digits are FNV-1a over the text with four seeds (from memory).
 */
export function idFrom(text: string): string {
  const words = [0x811c9dc5, 0x01000193, 0xcbf29ce4, 0x84222325].map((seed) => {
    let hash = seed;
    for (let i = 0; i < text.length; i++) hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193) >>> 0;
    return hash.toString(16).padStart(8, '0');
  });
  const hex = words.join('');
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-8${hex.slice(13, 16)}-8${hex.slice(17, 20)}-${hex.slice(20)}`;
}
