/** What is known of a switch whose contacts bounce. */
export type Contact = {
  /** What was taken as true, and since when, in ms. */
  readonly isDown: boolean;
  readonly sinceMs: number;
  /** What the contacts said last. */
  readonly raw: boolean;
};

/**
 * Takes a change of the contacts. The first one counts at once; what comes sooner than `debounceMs` after it waits for
 * `settleContact`, so that a tap shorter than the bouncing still ends.
 * @returns the contact and whether it changed. Times in ms, never falling.
 */
export function moveContact(
  contact: Contact | undefined,
  isDown: boolean,
  atMs: number,
  debounceMs: number,
): { contact: Contact; changed: boolean } {
  if (!contact) return { contact: { isDown, sinceMs: atMs, raw: isDown }, changed: true };
  const isEarly = atMs - contact.sinceMs < debounceMs;
  // A switch that says the same again without bouncing was pressed again: some never say that they went up.
  if (isEarly) return { contact: { ...contact, raw: isDown }, changed: false };
  return { contact: { isDown, sinceMs: atMs, raw: isDown }, changed: true };
}

/** When a contact has to be looked at again, in ms, or `null` when it rests. */
export const contactDueMs = (contact: Contact, debounceMs: number): number | null =>
  contact.raw === contact.isDown ? null : contact.sinceMs + debounceMs;

/** The contact after its bouncing is over: what it said last holds. */
export const settledContact = (contact: Contact, atMs: number): Contact => ({
  isDown: contact.raw,
  sinceMs: atMs,
  raw: contact.raw,
});
