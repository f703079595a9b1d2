import { ACTIONS } from '@idle-step/core/engine';
import { PLAIN_CURVES } from '@idle-step/core/floor';
import { SOUND_LIMIT, TAPE_COLOURS } from '@idle-step/core/gear';
import {
  BEAT_UNITS,
  PLAIN_LINE,
  readNoteLength,
  TEMPO_CHANGES,
  type Cue,
  type Setlist,
  type SceneControl,
  type Song,
  type TimeLine,
} from '@idle-step/core/show';
import { z } from 'zod';
import { ActionListSchema } from './preset';
import {
  ChannelNumber,
  given,
  Id,
  measure,
  Name,
  refuseDoubleIds,
  refuseDoubles,
  Remark,
  whole,
} from './numbers';

export const TempoBpm = measure('Tempo', 20, 400, 'bpm');
const GlideTime = z.object({ amount: measure('Time', 0, 3600, 's or beats'), unit: z.enum(['s', 'beats']) });
const GlideCurve = z.enum(PLAIN_CURVES);

export const TransitionSchema = z.object({
  time: GlideTime,
  curve: GlideCurve,
  switchAt: measure('Point of switching', 0, 1, 'of the time'),
});

const OwnWaySchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('at-once') }),
  z.object({ kind: z.literal('glide'), time: GlideTime, curve: GlideCurve }),
]);

export const PartLength = z.object({
  amount: measure('Length', 0, 36_000, 'bars, beats or seconds'),
  unit: z.enum(['bars', 'beats', 's']),
});

const OfControl = { boardId: Id, controlId: Id };
const SentValue = whole('Value', 0, SOUND_LIMIT);
const SceneControlSchema = z.discriminatedUnion('kind', [
  z.object({ ...OfControl, kind: z.literal('move'), functionId: Id, from: SentValue, to: SentValue }),
  z.object({ ...OfControl, kind: z.literal('set'), functionId: Id, value: SentValue }),
  z.object({ ...OfControl, kind: z.literal('toggle'), functionId: Id }),
  z.object({ ...OfControl, kind: z.literal('as-bank') }),
]) satisfies z.ZodType<SceneControl>;

export const SceneSchema = z.object({
  id: Id,
  name: Name,
  values: z
    .array(
      z.object({
        functionId: Id,
        value: whole('Value', 0, SOUND_LIMIT),
        way: OwnWaySchema.nullable().default(null),
        note: z
          .string()
          .refine((text) => readNoteLength(text) === text, {
            error: 'This is no note length; 1/4, dotted 1/8. or of a triplet 1/8t would be right.',
          })
          .optional(),
      }),
    )
    .max(2000),
  colour: z.enum(TAPE_COLOURS).nullable().default(null),
  remark: Remark.default(''),
  transition: TransitionSchema.nullable().default(null),
  tempoBpm: TempoBpm.nullable().default(null),
  banks: z
    .array(z.object({ boardId: Id, index: whole('Bank', 0, 999) }))
    .max(64)
    .default([]),
  routes: z
    .array(z.object({ routeId: Id, part: z.enum(['route', 'gate']), on: z.boolean() }))
    .max(500)
    .default([]),
  armedFunctionIds: z.array(Id).max(200).nullable().default(null),
  controls: z.array(SceneControlSchema).max(500).default([]),
});

/** A name that may be empty. */
export const PartName = z.string().trim().max(80, { error: 'This is longer than 80 characters.' });

const Tag = z
  .string()
  .trim()
  .min(1, { error: 'A tag has at least one character.' })
  .max(40, { error: 'A tag is longer than 40 characters.' });

export const BarNumber = whole('Bar', 1, 9999);
export const BarBeatNumber = measure('Beat', 1, 32.999999, '');
export const CountInBars = whole('Count-in', 0, 8, ' bars');
export const BeatsPerBar = whole('Beats to the bar', 1, 32);
export const BeatUnitNumber = z.literal(BEAT_UNITS, {
  error: (issue) => `A bar of beats like ${given(issue.input)} is none; 1, 2, 4, 8, 16 or 32 would be right.`,
});
export const CueSchema = z.object({
  id: Id,
  name: PartName,
  bar: BarNumber,
  beat: BarBeatNumber,
  actions: ActionListSchema.superRefine((actions, ctx) =>
    actions.forEach((action, i) => {
      if (!ACTIONS[action.kind].isInCues)
        ctx.addIssue({
          code: 'custom',
          path: [i, 'kind'],
          message:
            'This action belongs to a switch; a cue can set, glide, arm, send, route and go somewhere.',
        });
    }),
  ),
}) satisfies z.ZodType<Cue>;

export const TimeLineSchema = z.object({
  cues: z.array(CueSchema).max(500, { error: 'A song has 500 cues at the most.' }),
  tempos: z
    .array(
      z.object({
        id: Id,
        bar: BarNumber,
        beat: BarBeatNumber.default(1),
        bpm: TempoBpm.nullable(),
        beatsPerBar: BeatsPerBar.nullable(),
        beatUnit: BeatUnitNumber.nullable().default(null),
        isGradual: z.boolean(),
        since: z.object({ bar: BarNumber, beat: BarBeatNumber }).nullable().default(null),
      }),
    )
    .max(TEMPO_CHANGES, { error: `A song has ${TEMPO_CHANGES} changes of tempo at the most.` }),
  loop: z
    .object({ fromBar: BarNumber, toBar: BarNumber, isOn: z.boolean() })
    .refine(({ fromBar, toBar }) => fromBar <= toBar, { error: 'This loop ends before it begins.' })
    .nullable(),
  follows: z.object({ portId: Id }).nullable(),
  whenLost: z.enum(['wait', 'go-on']),
  partsByTime: z.boolean(),
}) satisfies z.ZodType<TimeLine>;

export const SongSchema = z
  .object({
    id: Id,
    rigId: Id,
    name: Name,
    tempoBpm: TempoBpm,
    beatsPerBar: BeatsPerBar,
    beatUnit: BeatUnitNumber.default(4),
    countInBars: CountInBars.default(0),
    lengthS: measure('Length', 0, 36_000, 's'),
    key: z.string().trim().max(20, { error: 'The key is longer than 20 characters.' }).default(''),
    remark: Remark.default(''),
    tags: z.array(Tag).max(20, { error: 'A song has up to 20 tags.' }).default([]),
    scenes: z.array(SceneSchema).max(200),
    parts: z
      .array(
        z.object({
          id: Id,
          sceneId: Id,
          name: PartName,
          length: PartLength.nullable(),
          remark: Remark,
        }),
      )
      .max(500)
      .default([]),
    line: TimeLineSchema.default(PLAIN_LINE),
  })
  .superRefine((song, ctx) => {
    refuseDoubleIds(song, ctx);
    const refuse = (path: (string | number)[], message: string) =>
      ctx.addIssue({ code: 'custom', path, message });
    song.scenes.forEach((scene, s) => {
      const twice = (field: string, what: string) => (i: number) =>
        refuse(['scenes', s, field, i], `${scene.name} ${what} twice.`);
      refuseDoubles(
        scene.values,
        (v) => v.functionId,
        () => '',
        twice('values', 'sets the same function'),
      );
      refuseDoubles(
        scene.banks,
        (b) => b.boardId,
        () => '',
        twice('banks', 'brings the same board to a bank'),
      );
      refuseDoubles(
        scene.routes,
        (r) => `${r.part}/${r.routeId}`,
        () => '',
        twice('routes', 'switches the same route'),
      );
      refuseDoubles(
        scene.controls,
        (c) => c.controlId,
        () => '',
        twice('controls', 'says what the same control does'),
      );
    });
    const scenes = new Set(song.scenes.map((s) => s.id));
    song.parts.forEach((part, i) => {
      if (!scenes.has(part.sceneId))
        refuse(['parts', i, 'sceneId'], `Part ${i + 1} is a scene that this song does not have.`);
    });
    song.line.cues.forEach((cue, c) =>
      cue.actions.forEach((action, i) => {
        if (action.kind === 'scene' && action.to.kind === 'is' && !scenes.has(action.to.sceneId))
          refuse(
            ['line', 'cues', c, 'actions', i, 'to', 'sceneId'],
            `The cue in bar ${cue.bar} goes to a scene that this song does not have.`,
          );
      }),
    );
  }) satisfies z.ZodType<Song>;

const EntryHead = {
  id: Id,
  isEncore: z.boolean().default(false),
  notTonight: z.boolean().default(false),
  remark: Remark.default(''),
};
const EntryLength = measure('Length', 0, 36_000, 's');

export const SetlistSchema = z
  .object({
    id: Id,
    rigId: Id,
    name: Name,
    date: z.union([z.literal(''), z.iso.date()], { error: 'A date looks like 2026-11-26.' }).default(''),
    place: PartName.default(''),
    startMin: whole('Start', 0, 1439, ' minutes after midnight').nullable().default(null),
    slotS: measure('Slot', 0, 86_400, 's').nullable().default(null),
    remark: Remark.default(''),
    calls: z
      .object({ portId: Id, channel: ChannelNumber, base: whole('Program', 0, 127) })
      .nullable()
      .default(null),
    entries: z
      .array(
        z.discriminatedUnion('kind', [
          z.object({
            ...EntryHead,
            kind: z.literal('song'),
            songId: Id,
            lengthS: EntryLength.nullable().default(null),
            leftOutSceneIds: z.array(Id).max(200).default([]),
          }),
          z.object({ ...EntryHead, kind: z.literal('break'), name: Name, lengthS: EntryLength }),
          z.object({ ...EntryHead, kind: z.literal('talk'), name: Name, lengthS: EntryLength }),
        ]),
      )
      .max(500),
  })
  .superRefine(refuseDoubleIds) satisfies z.ZodType<Setlist>;
