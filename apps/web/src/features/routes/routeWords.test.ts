import { demoRig, demoSongs } from '@idle-step/demo';
import { PLAIN_ROUTE, type Route } from '@idle-step/core/routing';
import { describe, expect, it } from 'vitest';
import { gateWords } from './routeWords';

describe('a gate by scenes, in words', () => {
  const [water, rope] = demoSongs;
  const inScenes = (...sceneIds: string[]): Route => ({
    ...PLAIN_ROUTE,
    id: 'route',
    name: 'Route',
    gate: { by: { kind: 'scenes', sceneIds }, startsOpen: false, holds: [], others: 'pass' },
  });
  const [intro, verse] = water!.scenes.map((s) => s.id);
  it.each<[string, string[], string]>([
    ['of no song', [], 'in no scene'],
    ['of one song', [verse!, intro!], 'in Intro and Verse of Low Water'],
    ['of two', [intro!, rope!.scenes[0]!.id], 'in Intro of Low Water; Intro of Rope and Bell'],
    ['of a song that is not in the page', ['elsewhere'], 'in 1 scene of other songs'],
    ['of one that is, and others', [intro!, 'a', 'b'], 'in Intro of Low Water; 2 scenes of other songs'],
  ])('%s', (_, ids, words) => {
    expect(gateWords(demoRig, [water!, rope!], inScenes(...ids))).toBe(words);
  });
});
