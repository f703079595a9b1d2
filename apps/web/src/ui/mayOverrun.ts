/** The widest that a letter of the page's 13 px type takes on average, in px; mono at 12 px is 7.2. Measured here. */
const LETTER_PX = 7.5;

/**
 * The class that cuts a text with an ellipsis, only for a text that may be too long: each clipped box is one more piece
 * to put together at every drawing, and a table has hundreds of them.
 *
 * @param px the room of the text, without padding.
 */
export const mayOverrun = (text: string, px: number): string =>
  text.length * LETTER_PX > px ? 'clipped' : '';
