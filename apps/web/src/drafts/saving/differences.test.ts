import { demoRig, demoSongs } from '@idle-step/demo';
import { describe, expect, it } from 'vitest';
import { describeDifferences } from './differences';

const mine = demoSongs[3]!;

describe('differences of two texts', () => {
  it('name the scene, the function and both values', () => {
    const theirs = {
      ...mine,
      tempoBpm: 96,
      scenes: mine.scenes.map((s) =>
        s.name === 'Chorus'
          ? { ...s, values: s.values.map((v, i) => (i === 0 ? { ...v, value: 5 } : v)) }
          : s,
      ),
    };
    expect(describeDifferences(mine, theirs, demoRig)).toEqual([
      { where: 'tempo', mine: '100', theirs: '96' },
      { where: 'scenes › Chorus › values › Kelpline Snapshot › value', mine: '2', theirs: '5' },
    ]);
  });
  it('name what only one of them has', () => {
    const theirs = { ...mine, scenes: mine.scenes.slice(0, 4) };
    expect(describeDifferences(mine, theirs, demoRig)).toEqual([
      { where: 'scenes › Outro', mine: 'Outro', theirs: 'nothing' },
    ]);
  });
  it('name the order where rows were moved, and only then', () => {
    const [first, second, ...rest] = mine.scenes;
    const theirs = { ...mine, scenes: [second!, first!, ...rest.slice(0, -1)] };
    expect(describeDifferences(mine, theirs, demoRig)).toEqual([
      { where: 'scenes › Outro', mine: 'Outro', theirs: 'nothing' },
      {
        where: 'scenes › order',
        mine: 'Intro, Verse, Chorus, Bridge',
        theirs: 'Verse, Intro, Chorus, Bridge',
      },
    ]);
  });
  it('are none between equal texts', () =>
    expect(describeDifferences(mine, structuredClone(mine), demoRig)).toEqual([]));
});
