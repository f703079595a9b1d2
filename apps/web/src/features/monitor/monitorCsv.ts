import { writeCsv } from '@idle-step/core/formats';
import { isMessage, type LogLine } from '../../live/log/logLine';
import { wordsOf } from './lineWords';
import { directionOf } from './monitorFilter';
import { nth } from '@idle-step/core/sure';

const HEADER = [
  'time',
  'since ms',
  'direction',
  'port',
  'device',
  'channel',
  'message',
  'meaning',
  'expected',
  'late ms',
  'bytes',
];

/** The lines that are shown as CSV, oldest first: times of day in UTC with milliseconds, channels 1–16. */
export const monitorCsv = (lines: readonly LogLine[]): string =>
  writeCsv(
    HEADER,
    lines.map((line, i) => {
      const words = wordsOf(line);
      const message = isMessage(line) ? line.message : null;
      return [
        new Date(line.wallMs).toISOString(),
        i === 0 ? '' : (line.atMs - nth(lines, i - 1).atMs).toFixed(3),
        isMessage(line) ? directionOf(line) : line.kind,
        words.port,
        words.device?.name ?? '',
        message && 'channel' in message ? String(message.channel + 1) : '',
        words.says,
        [words.means, words.untaken].filter(Boolean).join('; '),
        words.expected,
        message && isMessage(line) && line.lateMs !== null ? line.lateMs.toFixed(1) : '',
        words.raw,
      ];
    }),
  );
