/** Channels 1–16, with the device's own one first. */
export const channelOptions = (own: number | null): { value: number; text: string }[] => [
  { value: -1, text: own === null ? 'its own' : `its own, ${own + 1}` },
  ...Array.from({ length: 16 }, (_, i) => ({ value: i, text: String(i + 1) })),
];
