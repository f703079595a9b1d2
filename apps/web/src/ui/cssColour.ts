/** A colour of the theme in force, as a chart needs it. Example: `cssColour('--is-ink')`. */
export const cssColour = (name: string): string =>
  getComputedStyle(document.documentElement).getPropertyValue(name).trim();
