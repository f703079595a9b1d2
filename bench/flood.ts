/**
 * What a flood's worker does: a message every 2 ms, and a press now and then, each with its stamp. A message is one number,
 * tenths of ms since the page began and three bytes: an object for each would have the page's memory swept up for what the
 * bench itself leaves in it.
 */
const WORKER = `
  const sinceMs = () => performance.timeOrigin + performance.now() - pageBegan;
  const begun = sinceMs();
  let n = 0, presses = 0;
  const send = (status, first, second) =>
    postMessage(Math.round(sinceMs() * 10) * 2 ** 24 + status * 2 ** 16 + first * 2 ** 8 + second);
  setInterval(() => {
    const due = Math.floor((sinceMs() - begun) / 2);
    for (; n < due; n++) {
      send(0xb0, (n >> 7) & 31, n & 127);
      if (n % every === 0) send(0xbf, numbers[presses++ % numbers.length], 127);
      if (n % every === 15) send(0xbf, numbers[(presses - 1) % numbers.length], 0);
    }
  }, 1);
`;

/** The flood with presses, as a script for the page: a worker's stamps are not held up by what the page does. */
export const FLOOD = `
  window.flood = ({ numbers, everyMs }, heard) => {
    const source =
      'const pageBegan = ' + performance.timeOrigin + ', every = ' + everyMs / 2 +
      ', numbers = ' + JSON.stringify(numbers) + ';' + ${JSON.stringify(WORKER)};
    const worker = new Worker(URL.createObjectURL(new Blob([source])));
    worker.onmessage = ({ data }) => {
      const bytes = [(data / 2 ** 16) & 255, (data / 2 ** 8) & 255, data % 256];
      heard(Math.floor(data / 2 ** 24) / 10, bytes, bytes[0] === 0xbf && bytes[2] === 127);
    };
    return worker;
  };
`;

/**
 * @param presses the numbers of the controllers that are pressed in turn, on channel 16, and how far apart in ms.
 * @param heard is given the stamp on the page's clock in ms, the bytes, and whether it is a press.
 */
export type Flood = (
  presses: { readonly numbers: readonly number[]; readonly everyMs: number },
  heard: (atMs: number, bytes: number[], isPress: boolean) => void,
) => Worker;

/** The value below which a share of a list lies, 0–1. */
export const at = (list: readonly number[], share: number): number =>
  [...list].sort((a, b) => a - b)[Math.min(list.length - 1, Math.floor(list.length * share))]!;
