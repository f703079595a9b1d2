/** Messages of the flood that the worker tells the page of together, 2 ms apart each. */
const TOGETHER = 8;

/**
 * What a flood's worker does: a message every 2 ms, and a press now and then, each with its stamp. What it tells the page is
 * one number, tenths of ms since the page began and three bytes, and several messages of the flood are told together: the
 * events of a worker live in the page until its whole memory is swept up and make that longer, which those of a port do not.
 * Before a press it tells what has gathered, 8 ms and 2 ms earlier: at a port no more than one message of the flood is right
 * ahead of it, and a worker that comes a few ms late itself does not tell eight of them at once there.
 */
const WORKER = `
  const sinceMs = () => performance.timeOrigin + performance.now() - pageBegan;
  const begun = sinceMs();
  let n = 0, told = 0, presses = 0;
  const tell = (atMs, bytes) => postMessage(Math.round(atMs * 10) * 2 ** 24 + bytes);
  const tellFlood = () => {
    if (n > told) tell(sinceMs(), n - told);
    told = n;
  };
  const press = (number, value) => {
    tellFlood();
    tell(sinceMs(), 0xbf * 2 ** 16 + number * 2 ** 8 + value);
  };
  // Before these messages of the flood something is told: what has gathered, a press, a release.
  const places = [every - 4, every - 1, 14, 0, 15];
  const isToldAt = (message) => places.includes(message % every);
  const wake = () => {
    const due = Math.floor((sinceMs() - begun) / 2);
    for (; n < due; n++) {
      const place = n % every;
      if (place === every - 4 || place === every - 1 || place === 14) tellFlood();
      if (place === 0) press(numbers[presses++ % numbers.length], 127);
      if (place === 15) press(numbers[(presses - 1) % numbers.length], 0);
    }
    if (n - told >= ${TOGETHER}) tellFlood();
    // Woken when there is something to tell: a worker that looks all the time takes a processor from the page.
    let next = n;
    while (!isToldAt(next) && next - told < ${TOGETHER - 1}) next++;
    setTimeout(wake, Math.ceil(Math.max(1, begun + (next + 1) * 2 - sinceMs())));
  };
  wake();
`;

/** The flood with presses, as a script for the page: a worker's stamps are not held up by what the page does. */
export const FLOOD = `
  window.flood = ({ numbers, everyMs }, heard) => {
    const source =
      'const pageBegan = ' + performance.timeOrigin + ', every = ' + everyMs / 2 +
      ', numbers = ' + JSON.stringify(numbers) + ';' + ${JSON.stringify(WORKER)};
    const worker = new Worker(URL.createObjectURL(new Blob([source])));
    let n = 0;
    worker.onmessage = ({ data }) => {
      const atMs = Math.floor(data / 2 ** 24) / 10;
      const [status, first, second] = [(data / 2 ** 16) & 255, (data / 2 ** 8) & 255, data % 256];
      if (status > 0) {
        heard(atMs, [status, first, second], second === 127);
        return;
      }
      for (const end = n + first * 256 + second; n < end; n++)
        heard(atMs - (end - 1 - n) * 2, [0xb0, (n >> 7) & 31, n & 127], false);
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
