import type {
  Action,
  Assignment,
  Bank,
  Board,
  Control,
  ControlGroup,
  GestureWants,
  LampRule,
  Preset,
  RigWithBoards,
} from '../../floor';
import type { Device, Path } from '../../gear';
import type { Turn } from '../compile/turnTable';
import type { Layer, Routing, RouteTable } from '../../routing';
import type {
  ArmingFunction,
  Carrying,
  Cell,
  Part,
  Reached,
  SceneSurround,
  Song,
  SongCalls,
  SongLine,
  NoteLength,
} from '../../show';

/** What a world is made of, as it is kept. */
export type Show = {
  /**
   * Without `routing` what arrives is only heard by controls. `stepGuardMs`: a step that comes sooner after the same one
   * does not count; 0 and without it every one does.
   */
  readonly rig: RigWithBoards & { readonly routing?: Routing; readonly stepGuardMs?: number };
  readonly presets: readonly Preset[];
  /** The set in play; without it every show is of the same one. */
  readonly setId?: string | null;
  readonly setName: string;
  /** The songs of the running order; a song may stand in it more than once. */
  readonly songs: readonly Song[];
  /** The place of each song in the running order, by which it is found again after an edit. */
  readonly entryIds?: readonly string[];
  /** Scenes of each place that are not played this evening. */
  readonly leftOut?: readonly (readonly string[])[];
  /** What lies between the songs, in order. */
  readonly pauses?: readonly Pause[];
  /** How long each place is planned to be this evening, in seconds; without it as its song says. */
  readonly lengthsS?: readonly number[];
  /** What calls the songs of the running order from outside. */
  readonly calls?: SongCalls | null;
};

/** A break or talk of the running order, or the stop before its encores. */
export type Pause = {
  readonly id: string;
  readonly kind: 'break' | 'talk' | 'encore';
  readonly name: string;
  /** Planned, in seconds. */
  readonly lengthS: number;
  /** The place of the song that comes after it, from 0; as many as there are songs where it is the last thing. */
  readonly before: number;
};

/** A board with its preset, ready to be looked up. */
export type WorldBoard = {
  readonly board: Board;
  readonly device: Device;
  /** Where its messages arrive, or `null` when no cable leads to the computer. */
  readonly path: Path | null;
  /** The port at the computer by which its lamps are reached, or `null`. */
  readonly lampPortId: string | null;
  readonly preset: Preset | null;
  readonly banks: readonly WorldBank[];
  readonly groups: readonly WorldGroup[];
  /** The group of a control that has pages of its own, by control. */
  readonly groupOf: ReadonlyMap<string, number>;
  /** Functions of which one at a time is on, by the name of their circle. */
  readonly circles: ReadonlyMap<string, readonly string[]>;
};

export type WorldGroup = { readonly group: ControlGroup; readonly pages: readonly WorldBank[] };

export type WorldBank = {
  readonly bank: Bank;
  readonly assignments: ReadonlyMap<string, Assignment>;
  /** What each control's gestures look out for, by control. */
  readonly wants: ReadonlyMap<string, GestureWants>;
  /** Every control of this page that has a lamp, with what it does here. */
  readonly lamps: readonly WorldLamp[];
};

/** What a control does, with what its gestures look out for and what its lamp follows; no lamp where it has none. */
export type WorldWork = {
  readonly assignment: Assignment;
  readonly wants: GestureWants;
  readonly lamp: WorldLamp | null;
};

export type WorldLamp = {
  readonly control: Control;
  readonly assignment: Assignment | undefined;
  readonly rule: LampRule | null;
  /** What it follows while its page is in force: bits of `LAMP_CAUSES`. */
  readonly causes: number;
};

export type WorldControl = { readonly boardIndex: number; readonly control: Control };

export type WorldSong = {
  /** Its place in the running order. */
  readonly entryId: string;
  readonly song: Song;
  /** Planned for this evening, in seconds. */
  readonly lengthS: number;
  /** In the order in which they are played. */
  readonly parts: readonly Part[];
  /** The same in time, with its cues. */
  readonly line: SongLine;
  /** What each of its cues leaves where it is passed over, by cue. */
  readonly lasting: ReadonlyMap<string, readonly Action[]>;
  /** For each scene, what it is beside its functions. */
  readonly surrounds: readonly SceneSurround[];
  /** For each scene, the controls that do something else than their bank says, by control; mostly empty. */
  readonly controls: readonly ReadonlyMap<string, WorldWork>[];
  /** For each scene, what every function is told to be there. */
  readonly cells: readonly ReadonlyMap<string, Cell>[];
  /** For each scene, the functions that follow the tempo in it; mostly empty. */
  readonly following: readonly (readonly Following[])[];
};

/** A function that follows the tempo as a note length. */
export type Following = { readonly functionId: string; readonly note: NoteLength };

/**
 * The compiled, unchanging rig, presets and set. Made once an edit; every question that a live step asks is a
 * table look-up.
 */
export type World = {
  readonly show: Show;
  /** How long before its time what a glide or a clock says is handed over, in ms from 0; with its time. */
  readonly aheadMs: number;
  /** By id: the rows of all charts, and what stands for each plain controller that a pedal sends. */
  readonly functions: ReadonlyMap<string, Reached>;
  /** The rows of all charts, in their order: what can be chosen. */
  readonly rows: readonly Reached[];
  readonly boards: readonly WorldBoard[];
  readonly boardById: ReadonlyMap<string, WorldBoard>;
  readonly controls: ReadonlyMap<string, WorldControl>;
  readonly songs: readonly WorldSong[];
  /** Whether a scene of some song says what a control does. */
  readonly hasSceneControls: boolean;
  /** Ports whose clock some song follows. */
  readonly clockPorts: ReadonlySet<string>;
  /** Where each place of the running order stands, by its id. */
  readonly songAt: ReadonlyMap<string, number>;
  /** Controls that a key of the computer presses, by its usage number. */
  readonly keys: ReadonlyMap<number, WorldControl>;
  /** Controls by arrival port, then by `messageKey`. */
  readonly inputs: ReadonlyMap<string, ReadonlyMap<number, WorldControl>>;
  /** Controls whose place comes in several messages, by arrival port, then by `sequenceKey`. */
  readonly sequencedInputs: ReadonlyMap<string, ReadonlyMap<string, WorldControl>>;
  /** How each device is reached, by device. */
  readonly ways: ReadonlyMap<string, { readonly device: Device; readonly path: Path | null }>;
  /** The port at which each device is heard, by device; none where no cable leads back. */
  readonly backs: ReadonlyMap<string, string>;
  /** Functions that report back, by arrival port. */
  readonly reports: ReadonlyMap<string, readonly Reached[]>;
  /** Arrival ports where a report can be read only with the messages before it. */
  readonly sequencedPorts: ReadonlySet<string>;
  /** Ports at the computer that are not enabled for playing. */
  readonly portsOff: ReadonlySet<string>;
  /** Ports at which controls are learned. */
  readonly learningPorts: ReadonlySet<string>;
  /** Devices that hear what leaves by a port, whatever their channel. */
  readonly devicesBehind: ReadonlyMap<string, readonly Device[]>;
  readonly routes: RouteTable;
  readonly layers: readonly Layer[];
  /** Functions that arm a track, in the order of the charts. */
  readonly arming: readonly ArmingFunction[];
  /** What carrying values from scene to scene has to know. */
  readonly carrying: Carrying;
  /** Turns of lists that alternate, by the trigger that counts as one. */
  readonly turns: ReadonlyMap<string, readonly Turn[]>;
  /** What each bank and each page of a group is called. */
  readonly pageNames: ReadonlyMap<string, string>;
  /** Every port of the rig. */
  readonly portIds: ReadonlySet<string>;
  /** Channels in use behind each port at the computer, in their order: what panic has to silence. */
  readonly channelsBehind: ReadonlyMap<string, readonly ChannelBehind[]>;
};

/** `channel` 0–15. `soundOff`: a device that is reached there has its tails cut at panic. */
export type ChannelBehind = { readonly channel: number; readonly soundOff: boolean };
