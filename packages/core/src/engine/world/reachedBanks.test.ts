import { describe, expect, it } from 'vitest';
import type { Action, Assignment } from '../../floor';
import type { Song } from '../../show';
import { assign, makeBoard, makeRig, makeSong } from '../../testing.test-support';
import { compileWorld, reachedBanks } from '../index';

const bank = (to: object): Action => ({ kind: 'bank', to }) as never;
const up = assign('s0', [bank({ kind: 'up' })]);

function reached(banks: Assignment[][], songs: readonly Song[] = [], follows = 'nothing'): string[] {
  const { device, board, preset } = makeBoard(2, 0, banks);
  const rig = makeRig([device], [], [{ ...board, bankFollows: follows as never }]);
  const world = compileWorld({ rig, presets: [preset], setName: '', songs });
  return [...reachedBanks(world, world.boards[0]!)].sort();
}

describe('banks that can be got to', () => {
  it.each<[string, Assignment[][], string[]]>([
    ['only the first where no control leads on', [[], [], []], ['bank-0']],
    ['one after the other by a control of each', [[up], [up], []], ['bank-0', 'bank-1', 'bank-2']],
    ['back round the end', [[assign('s0', [bank({ kind: 'down' })])], [], []], ['bank-0', 'bank-2']],
    [
      'by its name',
      [[assign('s0', [bank({ kind: 'bank', bankId: 'bank-2' })])], [], []],
      ['bank-0', 'bank-2'],
    ],
    [
      'not by an action that is off',
      [[assign('s0', [{ ...bank({ kind: 'up' }), isOff: true }])], []],
      ['bank-0'],
    ],
    ['by a hold', [[{ ...assign('s0', []), hold: [bank({ kind: 'up' })] }], []], ['bank-0', 'bank-1']],
    ['not by a control of a bank that cannot', [[], [up], [up]], ['bank-0']],
  ])('%s', (_, banks, expected) => expect(reached(banks)).toEqual(expected));

  it('by a scene that chooses one, and by a board that follows the song', () => {
    const song = makeSong('Bank 2', [['Verse', {}]]);
    const chosen = {
      ...song,
      scenes: song.scenes.map((s) => ({ ...s, banks: [{ boardId: 'board', index: 2 }] })),
    } as unknown as Song;
    expect(reached([[], [], []], [chosen])).toEqual(['bank-0', 'bank-2']);
    expect(reached([[], [], []], [song, song, song], 'song-number')).toHaveLength(3);
  });
});
