import { showOfSet, type Show } from '@idle-step/core/engine';
import type { Board, Preset } from '@idle-step/core/floor';
import type { FullRig } from '@idle-step/core/routing';
import type { Setlist, Song } from '@idle-step/core/show';
import { demoPresets, demoRig, demoSets, demoSongs } from '@idle-step/demo';
import { nth } from '@idle-step/core/sure';

export type BigEvening = { readonly show: Show & { readonly rig: FullRig }; readonly set: Setlist };

const plank = nth(demoRig.boards, 0);

/** A board with everything that it is told, once more under other names. */
function boardCopy(n: number): { board: Board; preset: Preset; device: FullRig['devices'][number] } {
  const own = demoRig.devices.find((d) => d.id === plank.deviceId)!;
  const preset = demoPresets.find((p) => p.boardId === plank.id)!;
  const id = (old: string) => `${old.slice(0, 24)}b${n}${old.slice(26)}`;
  return {
    device: {
      ...own,
      id: id(own.id),
      name: `${own.name} ${n}`,
      channel: n % 13,
      ports: own.ports.map((p) => ({ ...p, id: id(p.id), link: 'usb', atComputer: true })),
    },
    board: {
      ...plank,
      id: id(plank.id),
      deviceId: id(own.id),
      presetId: id(preset.id),
      xMm: plank.xMm + n * 500,
      controls: plank.controls.map((c) => ({ ...c, id: id(c.id) })),
    },
    preset: {
      ...preset,
      id: id(preset.id),
      boardId: id(plank.id),
      banks: preset.banks.map((b) => ({
        ...b,
        id: id(b.id),
        assignments: b.assignments.map((a) => ({ ...a, controlId: id(a.controlId) })),
      })),
    },
  };
}

/** The demo's evening made longer and wider: so many songs, boards and devices. */
export function bigEvening(songCount: number, boardCount: number, deviceCount: number): BigEvening {
  const songs = Array.from({ length: songCount }, (_, i): Song => {
    const song = nth(demoSongs, i % demoSongs.length);
    const round = Math.floor(i / demoSongs.length);
    if (round === 0) return song;
    const id = (old: string) => `${old.slice(0, 20)}${String(round).padStart(4, '0')}${old.slice(24)}`;
    return {
      ...song,
      id: id(song.id),
      name: `${song.name} ${round + 1}`,
      scenes: song.scenes.map((s) => ({ ...s, id: id(s.id) })),
      parts: song.parts.map((p) => ({ ...p, id: id(p.id), sceneId: id(p.sceneId) })),
    };
  });
  const copies = Array.from({ length: Math.max(0, boardCount - demoRig.boards.length) }, (_, i) =>
    boardCopy(i + 1),
  );
  const more = Math.max(0, deviceCount - demoRig.devices.length - copies.length);
  const sluice = demoRig.devices.find((d) => d.name === 'Sluice')!;
  const rig: FullRig = {
    ...demoRig,
    devices: [
      ...demoRig.devices,
      ...copies.map((c) => c.device),
      ...Array.from({ length: more }, (_, i) => ({
        ...sluice,
        id: `device-${i}`,
        name: `Sluice ${i + 2}`,
        ports: sluice.ports.map((p, k) => ({ ...p, id: `port-${i}-${k}`, atComputer: p.direction === 'in' })),
        chart: sluice.chart.map((fn) => ({ ...fn, id: `${fn.id}-${i}` })),
      })),
    ],
    boards: [...demoRig.boards, ...copies.map((c) => c.board)],
  };
  const set: Setlist = {
    ...nth(demoSets, 0),
    entries: songs.map((song) => ({
      id: `entry-${song.id}`,
      kind: 'song',
      songId: song.id,
      lengthS: null,
      leftOutSceneIds: [],
      isEncore: false,
      notTonight: false,
      remark: '',
    })),
  };
  const presets = [...demoPresets, ...copies.map((c) => c.preset)];
  return { show: { rig, presets, ...showOfSet(set, songs) }, set };
}
