/** What a column of a manual's table holds. */
export type ManualColumn =
  | 'name'
  | 'controller'
  | 'note'
  | 'program'
  | 'message'
  | 'number'
  | 'values'
  | 'lowest'
  | 'highest'
  | 'channel'
  | 'group'
  | 'powerOn'
  | 'remark'
  | 'unused';

/** What columns are called in manuals. Source: common practice, no source. */
const CALLED: readonly [ManualColumn, RegExp][] = [
  ['controller', /^(?:midi )?(?:cc|controllers?|control change|ctrl)(?: ?(?:#|no\.?|nr\.?|num(?:ber)?))?$/],
  ['note', /^(?:midi )?note(?: ?(?:#|no\.?|nr\.?|num(?:ber)?))?$/],
  ['program', /^(?:pc|program(?: change)?|prog\.?|patch)(?: ?(?:#|no\.?|nr\.?|num(?:ber)?))?$/],
  ['message', /^(?:midi )?(?:messages?|type|command|status|midi|sends?|driven by)$/],
  ['number', /^(?:#|no\.?|nr\.?|num(?:ber)?|data ?1|byte 2|2nd byte)$/],
  [
    'values',
    /^(?:midi )?(?:values?|(?:value |data )?range|data(?: ?2)?|settings?|options?|byte 3|3rd byte|min ?(?:-|to|\/) ?max|values? range|sent|values, as sent)$/,
  ],
  ['lowest', /^(?:min(?:imum)?\.?|lowest|low|from)$/],
  ['highest', /^(?:max(?:imum)?\.?|highest|high|to)$/],
  ['channel', /^(?:midi )?ch(?:an|annel)?\.?$/],
  ['group', /^(?:group|section|category|block|page|module|area)$/],
  ['powerOn', /^(?:default|init(?:ial)?|power-?on|at power-on|start)(?: value)?$/],
  [
    'name',
    /^(?:(?:function|parameter|control|effect|feature) ?)?(?:name|functions?|parameters?|params?|controls?|features?|assignment|actions?|what(?: it does)?|destination|target|title|sound|patch name|program name)$/,
  ],
  ['remark', /^(?:remarks?|notes|comments?|description|details|info|meaning|explanation)$/],
  [
    'unused',
    /^(?:hex(?:adecimal)?|bytes|kind|transmit(?:ted|s)?|recogni[sz]ed|receive[ds]?|tx|rx|dec(?:imal)?)$/,
  ],
];

/** The column that a heading names, or `null`. What stands in brackets says more of the same. */
function columnCalled(heading: string): ManualColumn | null {
  const words = heading
    .toLowerCase()
    .replace(/\(.*?\)/g, '')
    .replace(/[*:]+$/, '')
    .replace(/\s+/g, ' ')
    .trim();
  return CALLED.find(([, form]) => form.test(words))?.[0] ?? null;
}

/** One cell of a line, with the place where it begins. */
export type PlacedCell = { readonly text: string; readonly from: number; readonly to: number };

/** What the cells of a table lie apart by: tabs, strokes, several spaces, or one of two signs. */
export type Apart = '\t' | '|' | 'spaces' | ';' | ',';

export function cellsApart(line: string, apart: Apart): readonly PlacedCell[] {
  const cells: PlacedCell[] = [];
  const form = apart === 'spaces' ? /\s{2,}|\t/g : new RegExp(`\\${apart}`, 'g');
  const text =
    apart === '|' ? line.replace(/^\s*\|/, (m) => ' '.repeat(m.length)).replace(/\|\s*$/, '') : line;
  let from = 0;
  const put = (to: number) => {
    const raw = text.slice(from, to);
    const start = from + (raw.length - raw.trimStart().length);
    cells.push({ text: raw.trim().replace(/^"(.*)"$/, '$1'), from: start, to: start + raw.trim().length });
  };
  for (const match of text.matchAll(form)) {
    // Spaces before the first word indent it.
    if (apart === 'spaces' && text.slice(0, match.index).trim() === '') continue;
    put(match.index);
    from = match.index + match[0].length;
  }
  put(text.length);
  return apart === 'spaces' ? cells.filter((c) => c.text !== '') : cells;
}

/** The head of a table: what its columns hold, and where they stand. */
export type ManualHead = {
  readonly apart: Apart;
  readonly columns: readonly { readonly holds: ManualColumn; readonly from: number; readonly to: number }[];
};

const APART: readonly Apart[] = ['\t', '|', 'spaces', ';', ','];

/** The head that a line is, or `null`: two columns at least are known, and one of them says where messages stand. */
export function headOf(line: string): ManualHead | null {
  if (/\d{2}/.test(line.replace(/\(.*?\)/g, ''))) return null;
  for (const apart of APART) {
    const cells = cellsApart(line, apart);
    if (cells.length < 2) continue;
    const columns = cells.map(({ text, from, to }) => ({ holds: columnCalled(text), from, to }));
    const known = columns.filter((c) => c.holds !== null).length;
    const isMessage = columns.some((c) => c.holds !== null && MESSAGES.includes(c.holds));
    if (known < 2 || !isMessage || known < cells.length - 1) continue;
    return { apart, columns: columns.map((c) => ({ ...c, holds: c.holds ?? 'remark' })) };
  }
  return null;
}

const MESSAGES: readonly ManualColumn[] = ['controller', 'note', 'program', 'message', 'number'];

/** The cells of a line by what they hold. Where columns lie apart by spaces, by their place: a cell may be empty. */
export function cellsUnder(head: ManualHead, line: string): Partial<Record<ManualColumn, string>> {
  const cells = cellsApart(line, head.apart);
  const found: Partial<Record<ManualColumn, string>> = {};
  const put = (holds: ManualColumn, text: string) => {
    if (text !== '') found[holds] = found[holds] === undefined ? text : `${found[holds]} ${text}`;
  };
  cells.forEach((cell, i) => {
    const column =
      head.apart === 'spaces' && cells.length !== head.columns.length ? nearest(head, cell) : head.columns[i];
    put(column?.holds ?? 'remark', cell.text);
  });
  return found;
}

/** The column that a cell lies under: the one that it overlaps most, else the one whose beginning is nearest. */
function nearest(head: ManualHead, cell: PlacedCell): ManualHead['columns'][number] | undefined {
  const overlap = (c: { from: number; to: number }) => Math.min(c.to, cell.to) - Math.max(c.from, cell.from);
  return [...head.columns].sort(
    (a, b) => overlap(b) - overlap(a) || Math.abs(a.from - cell.from) - Math.abs(b.from - cell.from),
  )[0];
}
