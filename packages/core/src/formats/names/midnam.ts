import { XMLBuilder } from 'fast-xml-parser';
import { CONTROL_TYPES, type MidnamBank, type MidnamControl, type MidnamDocument } from './midnamModel';
import { there } from '../../sure';

const PUBLIC_ID = '-//MIDI Manufacturers Association//DTD MIDINameDocument 1.0//EN';
const SYSTEM_ID = 'http://www.midi.org/dtds/MIDINameDocument10.dtd';

/** Characters that XML 1.0 cannot hold, not even escaped: most control characters and halves of pairs. */
const isWritable = (character: string): boolean => {
  const point = there(character.codePointAt(0));
  if (point < 0x20) return point === 0x09 || point === 0x0a || point === 0x0d;
  return !(point >= 0xd800 && point <= 0xdfff) && point !== 0xfffe && point !== 0xffff;
};

/**
 * Writes names of programs, banks, notes and controllers as a MIDI name document. Characters that XML cannot hold are
 * left out. Source: MIDI Name Document DTD 1.0.
 */
export function writeMidnam(document: MidnamDocument): string {
  const builder = new XMLBuilder({
    ignoreAttributes: false,
    attributeNamePrefix: '@',
    format: true,
    suppressEmptyNode: true,
    suppressBooleanAttributes: false,
    processEntities: false,
  });
  const { noteLists, controlLists } = document;
  const tree = {
    MIDINameDocument: {
      Author: escapeXml(document.author),
      MasterDeviceNames: {
        Manufacturer: escapeXml(document.manufacturer),
        Model: document.models.map(escapeXml),
        CustomDeviceMode: {
          ...named('Default'),
          ChannelNameSetAssignments: {
            ChannelNameSetAssign: channels.map((n) => ({ '@Channel': n, '@NameSet': 'All channels' })),
          },
        },
        ChannelNameSet: {
          ...named('All channels'),
          AvailableForChannels: {
            AvailableChannel: channels.map((n) => ({ '@Channel': n, '@Available': 'true' })),
          },
          UsesNoteNameList: noteLists.map((l) => named(l.name)),
          UsesControlNameList: controlLists.map((l) => named(l.name)),
          PatchBank: document.banks.map(bankNode),
        },
        NoteNameList: noteLists.map((list) => ({
          ...named(list.name),
          Note: list.notes.map((n) => ({ '@Number': n.number, ...named(n.name) })),
        })),
        ControlNameList: controlLists.map((list) => ({
          ...named(list.name),
          Control: list.controls.map(controlNode),
        })),
      },
    },
  };
  const head = `<?xml version="1.0" encoding="UTF-8"?>\n<!DOCTYPE MIDINameDocument PUBLIC "${PUBLIC_ID}" "${SYSTEM_ID}">\n`;
  return head + builder.build(tree);
}

const channels = Array.from({ length: 16 }, (_, i) => i + 1);
const named = (name: string) => ({ '@Name': escapeXml(name) });

const bankNode = (bank: MidnamBank) => ({
  ...named(bank.name),
  ...(bank.commands.length > 0 && {
    MIDICommands: {
      ControlChange: bank.commands.map((c) => ({ '@Control': c.control, '@Value': c.value })),
    },
  }),
  PatchNameList: {
    ...named(bank.name),
    Patch: bank.patches.map((p) => ({
      '@Number': escapeXml(p.number),
      '@Name': escapeXml(p.name),
      '@ProgramChange': p.program,
    })),
  },
});

const controlNode = (c: MidnamControl) => ({
  '@Type': CONTROL_TYPES[c.type],
  '@Number': c.number,
  ...named(c.name),
  ...(c.values && {
    Values: {
      '@Min': c.values.min,
      '@Max': c.values.max,
      ...(c.values.names.length > 0 && {
        ValueNameList: {
          ...named(c.name),
          Value: c.values.names.map((v) => ({ '@Number': v.number, ...named(v.name) })),
        },
      }),
    },
  }),
});

/** Line breaks and tabs in attributes would be read back as spaces, so they are written by number. */
const escapeXml = (text: string): string =>
  [...text]
    .filter(isWritable)
    .join('')
    .replaceAll('&', '&amp;')
    .replaceAll('<', '&lt;')
    .replaceAll('>', '&gt;')
    .replaceAll('"', '&quot;')
    .replace(/[\t\r\n]/g, (c) => `&#${there(c.codePointAt(0))};`);
