import { XMLParser, XMLValidator } from 'fast-xml-parser';
import { fail, ok, type Result } from '../../result';
import type { FileFault } from '../csv/chartCsv';
import { nth } from '../../sure';

/** An element of an XML file. `line` counts from 1. */
export type XmlElement = {
  readonly name: string;
  readonly line: number;
  readonly attributes: ReadonlyMap<string, string>;
  readonly children: readonly XmlElement[];
  readonly text: string;
};

const PREDEFINED: Record<string, string> = { amp: '&', lt: '<', gt: '>', quot: '"', apos: "'" };
// The package says `any`.
const META = XMLParser.getMetaDataSymbol() as symbol;

/**
 * Reads an XML file whose document type is known beforehand. Nothing is ever fetched: a DOCTYPE is taken only when it
 * names `publicId`, and one with declarations of its own (entities among them) is refused.
 * Errors: the line and what is wrong with it.
 */
export function readXml(text: string, rootName: string, publicId: RegExp): Result<XmlElement, FileFault> {
  const lineAt = lineFinder(text);
  // What stands in a comment, or in text that is not marked up, declares nothing.
  const declared = blanked(text, /<!--[^]*?-->|<!\[CDATA\[[^]*?\]\]>/g);
  const refuse = (line: number | null, sentence: string) => fail({ line, sentence });
  const doctype = /<!DOCTYPE[^>[]*[>[]?/i.exec(declared);
  const entity = /<!ENTITY/i.exec(declared);
  if (entity)
    return refuse(
      lineAt(entity.index),
      'The file declares entities. Those can pull in other files, so it is refused; save it without them.',
    );
  if (doctype) {
    const line = lineAt(doctype.index);
    if (doctype[0].endsWith('['))
      return refuse(
        line,
        'The DOCTYPE has declarations of its own; only the published document type is taken.',
      );
    if (!doctype[0].endsWith('>')) return refuse(line, 'The DOCTYPE is not closed; the file may be cut off.');
    if (!publicId.test(doctype[0]))
      return refuse(
        line,
        `The DOCTYPE asks for another document to be fetched; only the published ${rootName} is taken, and nothing is ever fetched.`,
      );
  }
  const encoding = /^\s*<\?xml[^>]*encoding\s*=\s*["']([^"']*)["']/i.exec(text.replace(/^\uFEFF/, ''))?.[1];
  if (encoding !== undefined && !/^(utf-?8|us-ascii)$/i.test(encoding))
    return refuse(1, `The file says that its encoding is ${encoding}; save it as UTF-8.`);
  // The document type keeps its place, so that lines stay what they are.
  const end = doctype ? doctype.index + doctype[0].length : 0;
  const body = doctype ? text.slice(0, doctype.index) + blanked(doctype[0], /[^]+/) + text.slice(end) : text;
  const valid = XMLValidator.validate(body);
  if (valid !== true) {
    // Tags that are never closed are told of without a place: the end of the file is where they are missed.
    const isUnclosed = valid.err.code === 'InvalidXml';
    return isUnclosed
      ? refuse(lineAt(body.length), 'Elements are still open where the file ends; it may be cut off.')
      : refuse(valid.err.line, `This is no whole XML: ${plainWords(valid.err.msg)} The file may be cut off.`);
  }
  try {
    return rootOf(parser.parse(body), rootName, lineAt);
  } catch (error) {
    if (error instanceof XmlFault) return refuse(error.line, error.message);
    return refuse(null, `This is no whole XML: ${plainWords(error instanceof Error ? error.message : '')}`);
  }
}

/** A text in which what matches is spaces; its lines stay what they are. */
const blanked = (text: string, what: RegExp): string =>
  text.replace(what, (found) => found.replace(/[^\n]/g, ' '));

/** Line of a place in a text, from 1; found by halves, since a big file asks for every element. */
function lineFinder(text: string): (index: number) => number {
  const starts = [0];
  for (let at = text.indexOf('\n'); at >= 0; at = text.indexOf('\n', at + 1)) starts.push(at + 1);
  return (index) => {
    let [low, high] = [0, starts.length];
    while (high - low > 1) {
      const middle = (low + high) >> 1;
      if (nth(starts, middle) <= index) low = middle;
      else high = middle;
    }
    return low + 1;
  };
}

type RawNode = Record<string, unknown> & { ':@'?: Record<string, string> };

const CDATA = '#cdata';

const parser = new XMLParser({
  preserveOrder: true,
  ignoreAttributes: false,
  attributeNamePrefix: '',
  parseAttributeValue: false,
  parseTagValue: false,
  trimValues: false,
  // Entities are decoded below, where an unknown one is a fault and not silently kept.
  processEntities: false,
  // What is not marked up has none.
  cdataPropName: CDATA,
  captureMetaData: true,
});

class XmlFault extends Error {
  constructor(
    readonly line: number,
    message: string,
  ) {
    super(message);
  }
}

function rootOf(
  nodes: readonly RawNode[],
  rootName: string,
  lineAt: (index: number) => number,
): Result<XmlElement, FileFault> {
  const roots = nodes.filter((n) => !tagOf(n).startsWith('?') && tagOf(n) !== '#text');
  const root = roots[0];
  if (!root) return fail({ line: 1, sentence: `There is nothing in it; a ${rootName} is expected.` });
  const element = elementOf(root, 1, lineAt);
  if (element.name !== rootName)
    return fail({ line: element.line, sentence: `This is a ${element.name}, not a ${rootName}.` });
  if (roots[1])
    return fail({
      line: elementOf(roots[1], 1, lineAt).line,
      sentence: `A second document begins here; a file holds one ${rootName}.`,
    });
  return ok(element);
}

/** Element depth that is still read; a name document has seven levels. */
const DEEPEST = 40;

function elementOf(node: RawNode, depth: number, lineAt: (index: number) => number): XmlElement {
  const name = tagOf(node);
  // The package's nodes carry their place under a symbol, which its types leave out.
  const line = lineAt((node as Record<symbol, { startIndex?: number }>)[META]?.startIndex ?? 0);
  if (depth > DEEPEST) throw new XmlFault(line, `Elements are nested more than ${DEEPEST} deep.`);
  const inside = childrenOf(node, name);
  const attributes = new Map(
    Object.entries(node[':@'] ?? {}).map(([key, value]) => [key, decode(String(value), line)]),
  );
  return {
    name,
    line,
    attributes,
    children: inside
      .filter((c) => !['#text', '#comment', CDATA].includes(tagOf(c)) && !tagOf(c).startsWith('?'))
      .map((c) => elementOf(c, depth + 1, lineAt)),
    text: inside.map((c) => textOf(c, line)).join(''),
  };
}

function textOf(node: RawNode, line: number): string {
  if (CDATA in node)
    return childrenOf(node, CDATA)
      .map((c) => String(c['#text'] ?? ''))
      .join('');
  return '#text' in node ? decode(String(node['#text']), line) : '';
}

/** Under the name of an element stand its children, under that of marked text its pieces. */
const childrenOf = (node: RawNode, name: string): readonly RawNode[] => node[name] as RawNode[];

const tagOf = (node: RawNode): string => Object.keys(node).find((key) => key !== ':@') ?? '';

function decode(text: string, line: number): string {
  return text.replace(
    /&(?:#x([0-9a-f]{1,6})|#(\d{1,7})|([^;\s&]*));?/gi,
    (all, hexCode?: string, code?: string, name?: string) => {
      if (!all.endsWith(';'))
        throw new XmlFault(line, 'An “&” stands by itself; written as &amp; it would be right.');
      if (name !== undefined) {
        const character = PREDEFINED[name];
        if (character === undefined) throw new XmlFault(line, `The entity &${name}; is not known here.`);
        return character;
      }
      const point = hexCode !== undefined ? parseInt(hexCode, 16) : Number(code);
      if (point === 0 || point > 0x10ffff) throw new XmlFault(line, `There is no character ${all}`);
      return String.fromCodePoint(point);
    },
  );
}

/** The validator's words without the place, which is told beside them. */
const plainWords = (text: string): string => {
  const words = text.replace(/\s*\(opened in line[^)]*\)/, '').trim();
  return /[.!?]$/.test(words) ? words : `${words}.`;
};
