import { expect, it } from 'vitest';
import { readScreen } from './screenSlice';

it.each(['null', '7', '"text"', '[1,2]', 'true', '{', ''])('a remembered %s gives nothing', (text) =>
  expect(readScreen(text)).toEqual({}),
);
it('parts that hold are taken, the others are as on the first visit', () =>
  expect(
    readScreen('{"rigId":4,"setId":null,"theme":"dark","stageTheme":"pink","__proto__":{"x":1}}'),
  ).toEqual({
    setId: null,
    theme: 'dark',
  }));
