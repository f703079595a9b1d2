/** Stands for the device's own channel. */
export const OWN_CHANNEL = -1;

/** Channels 1–16, with the device's own one first. */
export const channelOptions = (own: number | null): { value: number; text: string }[] => [
  { value: OWN_CHANNEL, text: own === null ? 'its own' : `its own, ${own + 1}` },
  ...Array.from({ length: 16 }, (_, i) => ({ value: i, text: String(i + 1) })),
];
