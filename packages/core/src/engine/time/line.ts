import type { Target } from '../../floor';
import type { Message } from '../../midi';
import { barBeatAt, firstAfter, meterAt, quartersOf, secondsAt, type LineEvent } from '../../show';
import { heardTempo, withTick } from './clockTempo';
import { countInQuarters } from './countIn';
import { CLOCKS_A_BEAT } from './clockTimes';
import { putOff } from '../live/delayed';
import type { LineState } from '../state/liveState';
import { lineBeat, lineSong, nextStop, type LineStop } from './lineTimes';
import { playPart } from '../song/navigate';
import { setTempo } from './tempo';
import type { Live } from '../live/live';
import { placeOf } from '../world/place';
import { type WorldSong } from '../world/world';
import { nth, there } from '../../sure';

/** Just before the song's first beat, and before any other one. */
const BEFORE = 1e-9;

/** Runs or stops the time line of the song in play. */
export function runLine(live: Live, to: 'start' | 'continue' | 'stop' | 'toggle'): void {
  const song = songInPlay(live);
  if (!song) {
    live.note({ code: 'no-songs' });
    return;
  }
  const line = lineOf(live, song);
  const wanted = to !== 'toggle' ? to : line.isRunning ? 'stop' : 'continue';
  switch (wanted) {
    case 'stop':
      live.state.line = { ...line, beat: lineBeat(live.world, line, live.nowMs), isRunning: false };
      return;
    case 'start':
      live.state.line = {
        ...freshLine(live, song),
        ...begins(song),
        isLooping: line.isLooping,
        isRunning: true,
      };
      // A song with changes of tempo starts at its written tempo; one without keeps a tempo that was tapped.
      if (song.line.tempos.length > 1 && !live.state.line.clock)
        setTempo(live, { ...live.state.tempo, bpm: nth(song.line.tempos, 0).bpm });
      align(live, song, 0);
      return;
    case 'continue':
      if (line.isRunning) return;
      live.state.line = {
        ...line,
        ...(hasBegun(line) ? {} : begins(song)),
        sinceMs: live.nowMs,
        isRunning: true,
      };
      align(live, song, Math.max(0, live.state.line.beat));
      return;
  }
}

/** Whether a time line has come to a beat of its song; else it begins with its count-in. */
const hasBegun = (line: LineState): boolean => line.beat > 0 || line.doneBeat >= 0;

/** Where a time line begins: its count-in before the first beat. A clock that is followed counts in by itself. */
const begins = (song: WorldSong): Pick<LineState, 'beat'> => ({
  beat: song.song.line.follows ? 0 : -countInQuarters(song.song) || 0,
});

/** Plays the loop again and again, or goes on after it. */
export function switchLoop(live: Live, to: 'on' | 'off' | 'toggle'): void {
  const song = songInPlay(live);
  if (!song?.line.loop) {
    live.note({ code: 'no-loop' });
    return;
  }
  const line = lineOf(live, song);
  live.state.line = { ...line, isLooping: to === 'toggle' ? !line.isLooping : to === 'on' };
}

/** Goes to a cue of the song in play, by its place in time, and does what it says; the line runs on if it ran. */
export function goToCue(live: Live, to: Target): void {
  const song = songInPlay(live);
  if (!song) {
    live.note({ code: 'no-songs' });
    return;
  }
  const { cues } = song.line;
  const line = lineOf(live, song);
  const now = lineBeat(live.world, line, live.nowMs);
  const index =
    to.kind === 'at'
      ? to.index
      : to.kind === 'next'
        ? cues.findIndex((c) => c.atBeat > Math.max(now, line.doneBeat))
        : previousCue(cues, now);
  const found = cues[index];
  if (!found) live.note({ code: 'no-such-cue' });
  else locate(live, found.atBeat);
}

/** The cue begun last, or the one before while that has only just begun. */
function previousCue(cues: WorldSong['line']['cues'], now: number): number {
  const last = cues.findLastIndex((c) => c.atBeat <= now);
  return last > 0 && now - nth(cues, last).atBeat < 1 ? last - 1 : last;
}

/**
 * Brings the time line to a beat. What holds there is recalled whole: the part that it lies in, and on top of it what
 * cues since then have set. What stands at that very beat is done.
 */
export function locate(live: Live, beat: number): void {
  const song = songInPlay(live);
  if (!song) {
    live.note({ code: 'no-songs' });
    return;
  }
  const line = lineOf(live, song);
  // Where it stands, the next tick is the one of this beat.
  const ticks = Math.round(beat * CLOCKS_A_BEAT) - (line.isRunning ? 0 : 1);
  const clock = line.clock && { ...line.clock, ticks };
  live.state.line = { ...line, beat, sinceMs: live.nowMs, doneBeat: beat, clock };
  const { events } = song.line;
  const from = firstAfter(events, beat - BEFORE);
  const part = song.song.line.partsByTime
    ? events.findLastIndex((e) => e.kind === 'part' && e.atBeat <= beat)
    : -1;
  const begun = events[part];
  const tempo = events.findLast((e) => e.kind === 'tempo' && e.atBeat <= beat);
  if (begun?.kind === 'part') {
    const elapsed = {
      beats: beat - begun.atBeat,
      seconds: secondsAt(song.line, beat) - secondsAt(song.line, begun.atBeat),
    };
    playPart(live, songIndexOf(live), begun.partIndex, 'all', elapsed);
  }
  if (tempo && !line.clock) doEvent(live, song, tempo);
  for (const event of events.slice(part + 1, from))
    if (event.kind === 'cue')
      for (const action of song.lasting.get(event.cue.id) ?? []) putOff(live, originOf(event.cue.id), action);
  for (const event of events.slice(from, firstAfter(events, beat)))
    if (event.kind === 'cue') doEvent(live, song, event);
  align(live, song, beat);
}

/** A cue is no control: whatever asks for one finds none. */
const originOf = (cueId: string) => ({ boardId: '', controlId: cueId, struck: 0 });

/** Does what the time line has come to. */
export function moveLine(live: Live): void {
  const { line } = live.state;
  const stop = line && nextStop(live.world, line);
  const song = line && lineSong(live.world, line);
  if (!stop || !song || stop.atMs > live.nowMs) return;
  switch (stop.kind) {
    case 'lost':
      live.state.line = { ...line, clock: line.clock && { ...line.clock, isLost: true } };
      live.note({ code: 'clock-lost', portId: song.song.line.follows?.portId ?? '' });
      return;
    case 'end':
      live.state.line = { ...line, beat: stop.beat, isRunning: false };
      return;
    case 'loop':
      turnBack(live, song, line, stop);
      return;
    case 'event': {
      const { events } = song.line;
      const from = firstAfter(events, line.doneBeat);
      live.state.line = { ...line, doneBeat: stop.beat };
      if (!line.clock) live.state.line = { ...live.state.line, beat: stop.beat, sinceMs: live.nowMs };
      for (const event of events.slice(from, firstAfter(events, stop.beat))) {
        // A cue may have led elsewhere.
        if (live.state.line?.doneBeat !== stop.beat) return;
        doEvent(live, song, event);
      }
    }
  }
}

/** From the end of the loop to its beginning. */
function turnBack(live: Live, song: WorldSong, line: LineState, stop: LineStop): void {
  const { from } = there(song.line.loop);
  const clock = line.clock && {
    ...line.clock,
    ticks: line.clock.ticks - Math.round((stop.beat - from) * CLOCKS_A_BEAT),
  };
  live.state.line = {
    ...line,
    beat: from,
    sinceMs: live.nowMs,
    doneBeat: from - BEFORE,
    clock,
  };
  align(live, song, from);
}

function doEvent(live: Live, song: WorldSong, event: LineEvent): void {
  switch (event.kind) {
    case 'part': {
      const part = song.parts[event.partIndex];
      const isThere = live.state.position.partId === part?.id && live.state.position.sceneId !== null;
      // The foot may have been there first.
      if (song.song.line.partsByTime && !isThere) playPart(live, songIndexOf(live), event.partIndex);
      return;
    }
    case 'tempo': {
      // A clock that is followed has the tempo; bars are counted here all the same.
      const bpm = live.state.line?.clock ? null : event.bpm;
      const { tempo } = live.state;
      const { beatsPerBar, beatUnit } = event.meter;
      setTempo(live, { ...tempo, bpm: bpm ?? tempo.bpm, beatsPerBar, beatUnit });
      align(live, song, event.atBeat);
      return;
    }
    case 'cue':
      live.note({ code: 'cue', cueId: event.cue.id, name: event.cue.name });
      for (const action of event.cue.actions) putOff(live, originOf(event.cue.id), action);
  }
}

/** A message of the clock that the song in play follows. */
export function hearClock(live: Live, portId: string, message: Message): void {
  const song = songInPlay(live);
  if (!song || song.song.line.follows?.portId !== portId) return;
  switch (message.kind) {
    case 'clock':
      hearTick(live, song);
      return;
    case 'start':
    case 'continue':
    case 'stop':
      runLine(live, message.kind);
      return;
    case 'song-position':
      locate(live, message.sixteenths / SIXTEENTHS_A_BEAT);
      return;
    default:
      return;
  }
}

/** Source: MIDI 1.0 Detailed Specification, "Song Position Pointer": six clocks. */
const SIXTEENTHS_A_BEAT = 4;

function hearTick(live: Live, song: WorldSong): void {
  live.state.ticksHeardMs = withTick(live.state.ticksHeardMs, live.nowMs);
  const bpm = heardTempo(live.state.ticksHeardMs);
  if (bpm !== null && Math.abs(bpm - live.state.tempo.bpm) > 0.05)
    setTempo(live, { ...live.state.tempo, bpm });
  const { line } = live.state;
  if (!line?.isRunning || !line.clock) return;
  const { isLost } = line.clock;
  // While the clock was lost the line went on by itself: it continues from the tick nearest to its place.
  const ownTick = Math.round(lineBeat(live.world, line, live.nowMs) * CLOCKS_A_BEAT);
  const ticks = isLost ? Math.max(line.clock.ticks + 1, ownTick) : line.clock.ticks + 1;
  const beat = ticks / CLOCKS_A_BEAT;
  live.state.line = { ...line, beat, sinceMs: live.nowMs, clock: { ticks, isLost: false } };
  if (isLost) live.note({ code: 'clock-found', portId: song.song.line.follows?.portId ?? '' });
  if (ticks % CLOCKS_A_BEAT === 0) align(live, song, beat);
}

/** The beat that is shown falls on the beat of the song. */
function align(live: Live, song: WorldSong, beat: number): void {
  const { tempo } = live.state;
  const inBar = barBeatAt(song.line, beat).beat - 1;
  const { beatsPerBar, beatUnit } = meterAt(song.line, beat);
  const originMs = live.nowMs - (inBar * quartersOf(beatUnit) * 60_000) / tempo.bpm;
  if (originMs !== tempo.originMs || beatsPerBar !== tempo.beatsPerBar || beatUnit !== tempo.beatUnit)
    live.state.tempo = { ...tempo, originMs, beatsPerBar, beatUnit };
}

const songIndexOf = (live: Live): number => placeOf(live.world, live.state).songIndex;

const songInPlay = (live: Live): WorldSong | undefined => live.world.songs[songIndexOf(live)];

/** The time line of a song as it stands, or at its beginning. */
const lineOf = (live: Live, song: WorldSong): LineState =>
  live.state.line?.entryId === song.entryId ? live.state.line : freshLine(live, song);

const freshLine = (live: Live, { entryId, song }: WorldSong): LineState => ({
  entryId,
  isRunning: false,
  beat: 0,
  sinceMs: live.nowMs,
  bpm: live.state.tempo.bpm,
  doneBeat: -1,
  isLooping: song.line.loop?.isOn ?? false,
  clock: song.line.follows ? { ticks: -1, isLost: false } : null,
});
