import { fail, ok, type Result } from '../../result';
import type { FileFault } from '../csv/chartCsv';
import {
  CONTROL_TYPES,
  type MidnamBank,
  type MidnamControl,
  type MidnamControls,
  type MidnamDocument,
  type MidnamNotes,
  type MidnamPatch,
} from './midnamModel';
import { readXml, type XmlElement } from './xmlTree';
import { got, keysOf, there } from '../../sure';

const PUBLIC_ID = /PUBLIC\s+["']-\/\/MIDI Manufacturers Association\/\/DTD MIDINameDocument [\d.]+\/\/EN["']/;

/**
 * Reads a MIDI name document: every bank, note list and control list of its first device, wherever in it they are
 * declared. Files with entities or a foreign DOCTYPE are refused, nothing is fetched, and any fault refuses the whole.
 * Source: MIDI Name Document DTD 1.0.
 */
export function readMidnam(text: string): Result<MidnamDocument, FileFault> {
  const xml = readXml(text, 'MIDINameDocument', PUBLIC_ID);
  if (!xml.ok) return xml;
  try {
    return ok(documentOf(xml.value));
  } catch (error) {
    if (error instanceof Misfit) return fail({ line: error.line, sentence: error.message });
    throw error;
  }
}

/** A place where the file does not follow its document type. */
class Misfit extends Error {
  constructor(at: XmlElement, message: string) {
    super(message);
    this.line = at.line;
  }
  readonly line: number;
}

function documentOf(root: XmlElement): MidnamDocument {
  const device = root.children.find(
    (c) => c.name === 'MasterDeviceNames' || c.name === 'ExtendingDeviceNames',
  );
  if (!device) throw new Misfit(root, 'There are no names of a device in it: MasterDeviceNames is missing.');
  const text = (name: string, from: XmlElement) => childrenOf(from, name).map((c) => c.text.trim());
  const patchLists = new Map(
    all(device, 'PatchNameList')
      .filter((l) => l.attributes.has('Name'))
      .map((l) => [got(l.attributes, 'Name'), l]),
  );
  const valueLists = new Map(all(device, 'ValueNameList').map((l) => [l.attributes.get('Name') ?? '', l]));
  return {
    author: text('Author', root)[0] ?? '',
    manufacturer: text('Manufacturer', device)[0] ?? '',
    models: text('Model', device),
    banks: all(device, 'PatchBank').flatMap((bank) => banksOf(bank, patchLists)),
    noteLists: all(device, 'NoteNameList').map(notesOf),
    controlLists: all(device, 'ControlNameList').map((list) => controlsOf(list, valueLists)),
  };
}

/** A bank; patches that select another one by commands of their own are one more. */
function banksOf(bank: XmlElement, lists: ReadonlyMap<string, XmlElement>): readonly MidnamBank[] {
  const used = childrenOf(bank, 'UsesPatchNameList')[0];
  const usedName = used && attribute(used, 'Name');
  const list = used ? lists.get(there(usedName)) : childrenOf(bank, 'PatchNameList')[0];
  if (used && !list) throw new Misfit(used, `There is no PatchNameList called “${there(usedName)}”.`);
  const name = attribute(bank, 'Name');
  const commands = commandsOf(bank, 'MIDICommands');
  const banks = new Map<string, { name: string; commands: Commands; patches: MidnamPatch[] }>();
  const bankWith = (own: Commands) => {
    const key = JSON.stringify(own);
    const found = banks.get(key) ?? { name, commands: own, patches: [] };
    banks.set(key, found);
    return found;
  };
  const patches = list ? childrenOf(list, 'Patch') : [];
  if (patches.length === 0) bankWith(commands);
  for (const [i, patch] of patches.entries()) {
    const own = commandsOf(patch, 'PatchMIDICommands');
    const others = commands.filter((c) => own.every((o) => o.control !== c.control));
    bankWith([...others, ...own].sort((a, b) => a.control - b.control)).patches.push({
      number: patch.attributes.get('Number') ?? String(i),
      name: attribute(patch, 'Name'),
      program: programOf(patch),
    });
  }
  return [...banks.values()];
}

type Commands = MidnamBank['commands'];

const commandsOf = (element: XmlElement, within: string): Commands =>
  childrenOf(element, within)
    .flatMap((c) => childrenOf(c, 'ControlChange'))
    .map((c) => ({ control: number(c, 'Control', 127), value: number(c, 'Value', 127) }));

/** The program that selects a patch: its attribute, its own command, or its number where that is one. */
function programOf(patch: XmlElement): number {
  if (patch.attributes.has('ProgramChange')) return number(patch, 'ProgramChange', 127);
  const command = childrenOf(patch, 'PatchMIDICommands').flatMap((c) => childrenOf(c, 'ProgramChange'))[0];
  if (command) return number(command, 'Number', 127);
  return number(patch, 'Number', 127);
}

const notesOf = (list: XmlElement): MidnamNotes => ({
  name: list.attributes.get('Name') ?? '',
  notes: all(list, 'Note').map((n) => ({ number: number(n, 'Number', 127), name: attribute(n, 'Name') })),
});

const controlsOf = (list: XmlElement, valueLists: ReadonlyMap<string, XmlElement>): MidnamControls => ({
  name: list.attributes.get('Name') ?? '',
  controls: childrenOf(list, 'Control').map((c) => controlOf(c, valueLists)),
});

function controlOf(control: XmlElement, valueLists: ReadonlyMap<string, XmlElement>): MidnamControl {
  const typed = control.attributes.get('Type') ?? '7bit';
  const type = keysOf(CONTROL_TYPES).find((t) => CONTROL_TYPES[t] === typed);
  if (!type)
    throw new Misfit(
      control,
      `“${typed}” is no type of control; ${Object.values(CONTROL_TYPES).join(', ')} would be right.`,
    );
  const highest = { '7bit': 127, '14bit': 31, RPN: 16382, NRPN: 16382 }[type];
  const values = childrenOf(control, 'Values')[0];
  return {
    type,
    number: number(control, 'Number', highest),
    name: attribute(control, 'Name'),
    values: values ? valuesOf(values, valueLists, type === '7bit' ? 127 : 16383) : null,
  };
}

function valuesOf(
  values: XmlElement,
  lists: ReadonlyMap<string, XmlElement>,
  highest: number,
): NonNullable<MidnamControl['values']> {
  const used = childrenOf(values, 'UsesValueNameList')[0];
  const list = used ? lists.get(attribute(used, 'Name')) : childrenOf(values, 'ValueNameList')[0];
  if (used && !list) throw new Misfit(used, `There is no ValueNameList called “${attribute(used, 'Name')}”.`);
  const names = (list ? childrenOf(list, 'Value') : []).map((v) => ({
    number: number(v, 'Number', highest),
    name: attribute(v, 'Name'),
  }));
  const bound = (name: string, fallback: number) =>
    values.attributes.has(name) ? number(values, name, highest) : fallback;
  const [min, max] = [bound('Min', 0), bound('Max', Math.min(127, highest))];
  if (min > max) throw new Misfit(values, `The highest value ${max} is below the lowest, ${min}.`);
  return { min, max, names };
}

const childrenOf = (element: XmlElement, name: string): readonly XmlElement[] =>
  element.children.filter((c) => c.name === name);

/** Elements of a name anywhere below, in the order of the file. */
const all = (element: XmlElement, name: string): XmlElement[] =>
  element.children.flatMap((c) => [...(c.name === name ? [c] : []), ...all(c, name)]);

function attribute(element: XmlElement, name: string): string {
  const value = element.attributes.get(name);
  if (value === undefined) throw new Misfit(element, `This ${element.name} has no ${name}.`);
  return value;
}

function number(element: XmlElement, name: string, highest: number): number {
  const text = attribute(element, name).trim();
  const value = /^\d+$/.test(text) ? Number(text) : NaN;
  if (value <= highest) return value;
  throw new Misfit(
    element,
    `The ${name} “${text}” of this ${element.name} is no number from 0 to ${highest}.`,
  );
}
