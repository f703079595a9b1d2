import { referencesIn, takenOut, type Finding, type Json, type Reference } from '@idle-step/core/edits';
import { ACTIONS, traitsOf } from '@idle-step/core/engine';
import type { Action, ActionKind, Preset, RigWithBoards } from '@idle-step/core/floor';
import { expectedText, takesValue, type ChartFunction, type Device, type Rig } from '@idle-step/core/gear';
import { layersOf, type Routing } from '@idle-step/core/routing';
import type { Song } from '@idle-step/core/show';
import { isRecord, got } from '@idle-step/core/sure';

/** A place in a document that points at something that is gone, or gives a function a value it does not take. */
export type ReferenceFault = Finding<'gone' | 'not-taken'>;

/** One at a field of a document. */
export const referenceFault = (
  code: ReferenceFault['code'],
  field: string,
  sentence: string,
): ReferenceFault => ({ code, severity: 'refused', place: { field }, sentence, mends: [] });

/** The same, with where it stands in names, from the outside in. */
export type PlacedFault = ReferenceFault & { readonly where: string };

type RoutedRig = RigWithBoards & { readonly routing?: Routing };
type Found = { readonly device: Device; readonly fn: ChartFunction };

/**
 * What a change of a rig takes away, or makes another one, by identifier: only songs and presets that point at one of
 * these can be spoiled by it.
 */
export function takenAway(before: RoutedRig, after: RoutedRig): string[] {
  const [old, now] = [partsOf(before), partsOf(after)];
  return [...old].flatMap(([key, what]) => (now.get(key) === what ? [] : key.replace(/^.*[ /]/, '')));
}

/** Everything that songs and presets can point at, with what of it they depend on. */
const partsOf = (rig: RoutedRig): ReadonlyMap<string, string> =>
  new Map([
    ...[...functionTable(rig)].map(
      ([id, { device, fn }]) =>
        [
          id,
          JSON.stringify([fn.shape, fn.arms, device.name, device.programsShownFrom, device.programPattern]),
        ] as const,
    ),
    ...rig.devices.flatMap((d) => [d.id, ...d.ports.map((p) => p.id)].map((id) => [id, ''] as const)),
    ...(rig.routing?.routes ?? []).map((r) => [`route ${r.id}`, ''] as const),
    ...rig.boards.flatMap((b) =>
      [b.id, ...b.controls.map((c) => `${b.id}/${c.id}`)].map((id) => [id, ''] as const),
    ),
  ]);

/** Every function of a rig by its id: the rows of its charts, and the levels of its layers. */
export function functionTable(rig: Rig & { readonly routing?: Routing }): Map<string, Found> {
  const rows = rig.devices.flatMap((device) => device.chart.map((fn): Found => ({ device, fn })));
  const levels = layersOf(rig).flatMap(({ level }) => level ?? []);
  return new Map([...levels, ...rows].map((found) => [found.fn.id, found] as const));
}

/** What a song says about its rig that does not hold. Empty: all holds. */
export const songFaults = (rig: RoutedRig, song: Song): PlacedFault[] =>
  faultsOf(rig, judgeOf(rig, song), song);

/** What a preset says about its rig and board that does not hold. Empty: all holds. */
export const presetFaults = (rig: RoutedRig, preset: Preset): PlacedFault[] =>
  rig.boards.some((b) => b.id === preset.boardId)
    ? faultsOf(rig, judgeOf(rig, preset), preset)
    : [{ ...referenceFault('gone', 'boardId', 'The board of this preset is gone.'), where: '' }];

/**
 * A document of a rig without what does not hold against it: actions, values, sweeps, assignments and lamps that point
 * at what is not there, or that give a function what it does not take. `null` where nothing of it is left to be.
 */
export function withoutFaults<D extends Song | Preset>(rig: RoutedRig, doc: D): D | null {
  const judge = judgeOf(rig, doc);
  return takenOut(doc, (r) => judge(r) !== null);
}

/** Faults that a document has against one rig and not against another: what a change of the rig would spoil. */
export function spoiledBy(before: RoutedRig, after: RoutedRig, doc: Song | Preset): PlacedFault[] {
  const [judgeBefore, judgeAfter] = [judgeOf(before, doc), judgeOf(after, doc)];
  return faultsOf(before, (r) => (judgeBefore(r) === null ? judgeAfter(r) : null), doc);
}

const faultsOf = (rig: RoutedRig, judge: Judge, doc: Song | Preset): PlacedFault[] => {
  const controlNames = new Map(rig.boards.flatMap((b) => b.controls.map((c) => [c.id, c.name] as const)));
  return referencesIn(doc).flatMap((reference) => {
    const judged = judge(reference);
    if (judged === null) return [];
    const { code, words } = judged;
    const where = placeOf(doc, reference.path, controlNames);
    // A control or board is at its own field; of an action, a sweep or a value it is the whole that does not hold.
    const isOwn = reference.kind === 'control' || reference.kind === 'board';
    const path = (isOwn ? reference.path : reference.path.slice(0, -1)).join('.');
    const sentence = where ? `${where}: ${words}` : capital(words);
    return [{ ...referenceFault(code, path, sentence), where }];
  });
};

/** What is wrong with one reference, in words that follow its place; `null` when it holds. */
type Judge = (reference: Reference) => Judged | null;
type Judged = { readonly code: ReferenceFault['code']; readonly words: string };

const gone = (words: string): Judged => ({ code: 'gone', words });
const notTaken = (words: string): Judged => ({ code: 'not-taken', words });

function judgeOf(rig: RoutedRig, doc: Song | Preset): Judge {
  const functions = functionTable(rig);
  const controls = new Map(rig.boards.map((b) => [b.id, new Set(b.controls.map((c) => c.id))]));
  const own = 'boardId' in doc ? controls.get(doc.boardId) : undefined;
  const banks = new Set('banks' in doc ? doc.banks.map((b) => b.id) : []);
  const pages = new Map(
    'groups' in doc ? doc.groups.map((g) => [g.id, new Set(g.pages.map((p) => p.id))] as const) : [],
  );
  const ports = new Set(rig.devices.flatMap((d) => d.ports.map((p) => p.id)));
  const devices = new Set(rig.devices.map((d) => d.id));
  const routes = new Set(rig.routing?.routes.map((r) => r.id));
  const isThere = (there: boolean | undefined, words: string) => (there ? null : gone(words));
  return ({ kind, id, holder, path }) => {
    switch (kind) {
      case 'function':
        return functionFault(functions.get(id), holder);
      case 'control':
        return isThere(
          (own ?? controls.get(String(holder['boardId'])))?.has(id),
          'the control is gone from the board.',
        );
      case 'board':
        return isThere(controls.has(id), 'the board is gone from the rig.');
      case 'device':
        return isThere(devices.has(id), 'the device is gone from the rig.');
      case 'port':
        return isThere(ports.has(id), 'the port is gone from the rig.');
      case 'route':
        return isThere(routes.has(id), 'the route is gone from the rig.');
      case 'group':
        return isThere(pages.has(id), 'the group whose pages it turns is gone.');
      case 'bank': {
        // A page is looked for in the group that its action turns.
        const group = pageGroupOf(doc, path);
        if (group === null) return isThere(banks.has(id), 'the bank it goes to is gone.');
        return isThere(!pages.has(group) || got(pages, group).has(id), 'the page it goes to is gone.');
      }
      case 'rig':
      case 'preset':
      case 'song':
      case 'scene':
        return null;
    }
  };
}

const partOf = (of: unknown, step: string | number): unknown =>
  Array.isArray(of) ? of[Number(step)] : isRecord(of) ? of[step] : undefined;

/** The group whose pages an action turns that has a bank or page as its target; `null` for banks. */
function pageGroupOf(doc: Song | Preset, path: readonly (string | number)[]): string | null {
  const action = path.slice(0, -2).reduce<unknown>(partOf, doc);
  const groupId = isRecord(action) ? action['groupId'] : null;
  return typeof groupId === 'string' ? groupId : null;
}

function functionFault(found: Found | undefined, holder: Reference['holder']): Judged | null {
  if (!found) return gone("the function is gone from the rig's charts.");
  const { device, fn } = found;
  const { kind } = holder;
  const traits = isActionKind(kind) ? traitsOf({ kind }) : null;
  const unfit = traits?.refuses(fn);
  if (unfit) return notTaken(unfit);
  // A part of this kind was read as an action before.
  const given = traits
    ? traits.values(holder as Action)
    : kind === undefined || kind === 'move'
      ? valuesBeside(holder)
      : [];
  const refused = given.find((value) => !takesValue(fn.shape, value));
  return refused === undefined
    ? null
    : notTaken(
        `${device.name} ${fn.name} does not take ${refused} (sent); it takes ${expectedText(device, fn)} as shown.`,
      );
}

const isActionKind = (kind: Json | undefined): kind is ActionKind =>
  typeof kind === 'string' && Object.hasOwn(ACTIONS, kind);

/** Numbers that a value of a scene, or a sweep, gives the function that it points at. */
const valuesBeside = (holder: Reference['holder']): readonly number[] =>
  ('value' in holder ? [holder['value']] : [holder['from'], holder['to']]).filter(
    (v) => typeof v === 'number',
  );

/** Where a reference stands, for people: the names of what it is in, from the outside in. */
function placeOf(
  doc: Song | Preset,
  path: readonly (string | number)[],
  controlNames: ReadonlyMap<string, string>,
): string {
  const names: string[] = [];
  let at: unknown = doc;
  for (const step of path.slice(0, -1)) {
    at = partOf(at, step);
    if (!isRecord(at)) continue;
    const { name, kind, controlId } = at;
    const own = name ?? controlNames.get(String(controlId ?? ''));
    if (at !== doc && typeof own === 'string') names.push(own);
    else if (path[0] === 'feel' && typeof kind === 'string' && names.length === 0)
      names.push(`Every ${kind}`);
  }
  return names.join(', ');
}

const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);
